import { strFromU8, unzipSync } from 'fflate';
import {
  Element,
  isTag,
  isText,
  type AnyNode,
  type Document,
  type ParentNode,
  Text,
} from 'domhandler';
import { DomUtils, parseDocument } from 'htmlparser2';
import postcss from 'postcss';
import sanitizeHtml from 'sanitize-html';
import { counted } from '../base/words';
import type { DocumentFacts, WalkedRow } from './docx';
import { DocumentError } from './error';
import { readable } from './links';

/** A page is a single part. */
export const htmlPart = 'page.html';

const mostBytes = 10 * 2 ** 20;
const mostUnpacked = 40 * 2 ** 20;
const mostLetters = 300_000;
const deepest = 256;

/** A stretch of a paragraph's text that one node of the page holds: its text, or a line break. */
export interface HtmlPiece {
  node: Text | Element;
  text: string;
  from: number;
}
export interface HtmlParagraph {
  /** Its element, with others or alone. */
  node: Element;
  text: string;
  pieces: HtmlPiece[];
  /** Not visible text, but a link target. */
  leads?: true;
  /** The title of the page: seen on its tab, and not in it. */
  title?: true;
  twin?: undefined;
}
export interface HtmlWalked {
  paragraphs: HtmlParagraph[];
  pictures: Element[];
  rows: WalkedRow<Element>[];
}
export interface OpenHtml {
  root: Document;
  notes: string[];
}

const blocks = new Set(
  'address article aside blockquote body caption center dd details div dl dt fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6 header hr html legend li main nav ol p pre section summary table tbody td tfoot th thead tr ul'.split(
    ' ',
  ),
);
/** Hold no text that is seen. */
const silent = new Set(['style', 'title', 'head', 'script', 'template']);
const inline =
  'a abbr b bdi bdo big br cite code del dfn em font i img ins kbd mark q s samp small span strike strong sub sup time tt u var wbr col colgroup';
const mimeOf: Readonly<Record<string, string>> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  gif: 'image/gif',
  webp: 'image/webp',
  svg: 'image/svg+xml',
};

/**
 * Whether these bytes are a page and no document: a page by itself, or a ZIP with one and its
 * pictures.
 */
export function isHtml(name: string, bytes: Uint8Array): boolean {
  if (bytes[0] === 0x50 && bytes[1] === 0x4b) return /\.zip$/i.test(name);
  return /\.x?html?$/i.test(name);
}

/**
 * Opens a page without anything that runs, asks, or is fetched from elsewhere. @throws
 * DocumentError
 */
export function openHtml(bytes: Uint8Array): OpenHtml {
  const { page, beside } =
    bytes[0] === 0x50 && bytes[1] === 0x4b ? unpacked(bytes) : { page: bytes, beside: undefined };
  if (page.length > mostBytes)
    throw new DocumentError(
      `This page is larger than 10 MB (${(page.length / 2 ** 20).toFixed(1)} MB). Make its pictures smaller and save it again.`,
    );
  const text = textOf(page);
  if (!/<(!doctype html|html|body|table|div|p|h1)\b/i.test(text))
    throw new DocumentError('This is not an HTML page. Save it as HTML and bring that in.');
  const left = { elsewhere: 0, runs: 0 };
  const clean = sanitizeHtml(text, {
    allowedTags: [...blocks, 'head', 'title', 'style', ...inline.split(' ')].filter(
      (tag) => tag !== 'form',
    ),
    allowVulnerableTags: true,
    allowedAttributes: {
      '*': [
        'style',
        'class',
        'id',
        'align',
        'valign',
        'width',
        'height',
        'bgcolor',
        'color',
        'border',
        'cellpadding',
        'cellspacing',
        'colspan',
        'rowspan',
        'dir',
        'lang',
        'title',
        'alt',
        'role',
        'start',
        'face',
        'size',
        'aria-*',
      ],
      a: ['href', 'name'],
      img: ['src'],
    },
    allowedSchemes: ['http', 'https', 'mailto', 'tel', 'sms', 'geo'],
    allowedSchemesByTag: { img: ['data'] },
    allowProtocolRelative: false,
    nestingLimit: deepest,
    disallowedTagsMode: 'discard',
    onOpenTag: (name) => {
      if (
        /^(script|iframe|object|embed|form|input|button|select|textarea|video|audio|svg|math)$/.test(
          name,
        )
      )
        left.runs++;
    },
    transformTags: {
      img: (tagName, attributes) => {
        const { src = '', ...rest } = attributes;
        if (/^data:image\/(png|jpe?g|gif|webp|svg\+xml)[;,]/i.test(src))
          return { tagName, attribs: { ...rest, src } };
        const own = beside?.(src);
        if (own) return { tagName, attribs: { ...rest, src: own } };
        if (src !== '') left.elsewhere++;
        // its place stays, so that it can be selected
        return { tagName, attribs: { ...rest, src: blankPicture } };
      },
    },
  });
  const root = parseDocument(clean);
  for (const element of DomUtils.getElementsByTagName('style', root)) {
    const css = DomUtils.textContent(element);
    element.children = [new Text(cleanCss(css))];
    element.children[0]!.parent = element;
  }
  for (const element of DomUtils.getElementsByTagName('*', root))
    if (element.attribs.style !== undefined) {
      const style = cleanCss(element.attribs.style);
      if (style === '') delete element.attribs.style;
      else element.attribs.style = style;
    }
  oneSpace(root, false);
  const notes: string[] = [];
  if (left.elsewhere > 0)
    notes.push(
      `${counted(left.elsewhere, 'picture lies', 'pictures lie')} elsewhere and ${left.elsewhere === 1 ? 'was' : 'were'} not fetched`,
    );
  if (left.runs > 0)
    notes.push(
      `${counted(left.runs, 'part')} that ${left.runs === 1 ? 'runs or asks' : 'run or ask'} something left out`,
    );
  return { root, notes };
}

/** One white dot. */
const blankPicture =
  'data:image/gif;base64,R0lGODlhAQABAIAAAP///wAAACH5BAAAAAAALAAAAAABAAEAAAICRAEAOw==';

/** A page and the pictures beside it, from a ZIP. */
function unpacked(bytes: Uint8Array): {
  page: Uint8Array;
  beside: (src: string) => string | undefined;
} {
  let size = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(bytes, {
      filter: ({ originalSize }) => {
        size += originalSize;
        if (size > mostUnpacked)
          throw new DocumentError(
            'This ZIP unpacks to more than 40 MB, far more than a page needs. It was not opened.',
          );
        return true;
      },
    });
  } catch (error) {
    if (error instanceof DocumentError) throw error;
    throw new DocumentError('This ZIP is damaged. Create it again.');
  }
  const pages = Object.keys(files).filter((name) => /\.x?html?$/i.test(name));
  if (pages.length !== 1)
    throw new DocumentError(
      pages.length === 0
        ? 'There is no page in this ZIP. Put the page and its pictures into it.'
        : `There are ${pages.length} pages in this ZIP. Leave only one.`,
    );
  const folder = pages[0]!.replace(/[^/]*$/, '');
  return {
    page: files[pages[0]!]!,
    beside: (src) => {
      let path: string;
      try {
        path = decodeURIComponent(src.replace(/[?#].*$/, ''));
      } catch {
        return undefined;
      }
      const file = files[folder + path.replace(/^\.\//, '')] as Uint8Array | undefined;
      const mime = mimeOf[path.split('.').at(-1)?.toLowerCase() ?? ''];
      return file && mime && `data:${mime};base64,${base64(file)}`;
    },
  };
}

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 0x8000)
    text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return btoa(text);
}

function textOf(bytes: Uint8Array): string {
  const head = strFromU8(bytes.subarray(0, 2048), true);
  const [, said] = /<meta[^>]+charset\s*=\s*["']?([\w-]+)/i.exec(head) ?? [];
  const mark =
    bytes[0] === 0xff && bytes[1] === 0xfe
      ? 'utf-16le'
      : bytes[0] === 0xfe && bytes[1] === 0xff
        ? 'utf-16be'
        : undefined;
  const asUtf8 = () => new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  try {
    if (mark) return new TextDecoder(mark).decode(bytes);
    return said && !/^utf-?8$/i.test(said) ? new TextDecoder(said).decode(bytes) : asUtf8();
  } catch {
    return new TextDecoder('windows-1252').decode(bytes);
  }
}

/**
 * Styles without anything that loads files, runs in old browsers, or leaves its place on the page.
 */
export function cleanCss(css: string): string {
  let root;
  try {
    root = postcss.parse(css);
  } catch {
    return '';
  }
  root.walkComments((comment) => void comment.remove());
  root.walkAtRules((rule) => {
    if (!/^(media|supports)$/i.test(rule.name)) rule.remove();
  });
  root.walkDecls((declaration) => {
    const value = declaration.value.toLowerCase();
    const addresses = [...value.matchAll(/url\(\s*["']?([^"')]*)/g)];
    const fetched =
      addresses.some(([, address]) => !address!.startsWith('data:image/')) ||
      /image-set|expression|element\(|\\|@/.test(value) ||
      (/url/.test(value) && addresses.length === 0);
    const leaves = declaration.prop.toLowerCase() === 'position' && /fixed|sticky/.test(value);
    if (
      fetched ||
      leaves ||
      /^(behavior|-moz-binding)$/i.test(declaration.prop) ||
      /\\/.test(declaration.prop)
    )
      declaration.remove();
  });
  // a rule must not close its style element
  return root.toString().replace(/<\//g, '').trim();
}

/** White space counts as one space, as it is drawn, except where it is preserved. */
function oneSpace(node: ParentNode, kept: boolean): void {
  for (const inside of node.children)
    if (isText(inside)) {
      if (!kept) inside.data = inside.data.replace(/[ \t\r\n\f]+/g, ' ');
    } else if (isTag(inside))
      oneSpace(inside, kept || inside.name === 'pre' || silent.has(inside.name));
}

/**
 * Paragraphs, pictures and table rows of a page, numbered in order. A paragraph is the text from
 * one block to the next, or an empty block; after all of them the link targets.
 */
export function walkHtml(root: ParentNode): HtmlWalked {
  const found: HtmlWalked = { paragraphs: [], pictures: [], rows: [] };
  let open: HtmlParagraph | undefined;
  const close = () => {
    if (open && open.text.trim() !== '') {
      found.paragraphs.push(open);
      within(rowsOpen);
    }
    open = undefined;
  };
  const rowsOpen: HtmlWalked['rows'] = [];
  /** The last paragraph is in these rows, and in the open cell of each. */
  const within = (rows: HtmlWalked['rows']) => {
    for (const row of rows) {
      row.paragraphs.push(found.paragraphs.length - 1);
      row.cells.at(-1)?.paragraphs.push(found.paragraphs.length - 1);
    }
  };
  const links: { node: Element; rows: HtmlWalked['rows'] }[] = [];
  const visit = (node: AnyNode, block: Element): void => {
    if (isText(node)) {
      open ??= { node: block, text: '', pieces: [] };
      open.pieces.push({ node, text: node.data, from: open.text.length });
      open.text += node.data;
      return;
    }
    if (!isTag(node) || silent.has(node.name)) return;
    if (node.name === 'br') {
      open ??= { node: block, text: '', pieces: [] };
      open.pieces.push({ node, text: '\n', from: open.text.length });
      open.text += '\n';
      return;
    }
    if (node.name === 'a' && /^[a-z]+:./i.test(node.attribs.href ?? ''))
      links.push({ node, rows: [...rowsOpen] });
    if (node.name === 'img') {
      found.pictures.push(node);
      return;
    }
    if (!blocks.has(node.name)) {
      for (const inside of node.children) visit(inside, block);
      return;
    }
    close();
    if (node.name === 'tr') {
      let table: ParentNode | null = node.parent;
      while (table && !(isTag(table) && table.name === 'table')) table = table.parent;
      const row = {
        node,
        table: table && isTag(table) ? table : node,
        paragraphs: [],
        cells: [],
      };
      found.rows.push(row);
      rowsOpen.push(row);
    } else if (/^t[dh]$/.test(node.name)) rowsOpen.at(-1)?.cells.push({ node, paragraphs: [] });
    const before = found.paragraphs.length;
    for (const inside of node.children) visit(inside, node);
    close();
    const empty = !DomUtils.findOne((e) => e.name === 'img' || blocks.has(e.name), node.children);
    if (empty && found.paragraphs.length === before && /^(p|td|th|div|li)$/.test(node.name)) {
      found.paragraphs.push({ node, text: '', pieces: [] });
      within(rowsOpen);
    }
    if (node.name === 'tr') rowsOpen.pop();
  };
  const top = new Element('body', {});
  for (const node of root.children) visit(node, top);
  close();
  for (const { node, rows } of links) {
    found.paragraphs.push({ node, text: readable(node.attribs.href!), pieces: [], leads: true });
    for (const row of rows) row.paragraphs.push(found.paragraphs.length - 1);
  }
  // last of all, so that the numbers of the others stay as they were
  const title = DomUtils.findOne((e) => e.name === 'title', root.children);
  const words = title?.children.find(isText);
  if (title && words)
    found.paragraphs.push({
      node: title,
      text: words.data,
      pieces: [{ node: words, text: words.data, from: 0 }],
      title: true,
    });
  return found;
}

const pxPerMm = 96 / 25.4;

/** Width and height of a picture in the page, in mm; without either, those of a code. */
function sizeOf(picture: Element): { widthMm: number; heightMm: number } {
  const said = (what: 'width' | 'height'): number | undefined => {
    const [, style] =
      new RegExp(`(?:^|[;\\s])${what}\\s*:\\s*([\\d.]+)px`, 'i').exec(
        picture.attribs.style ?? '',
      ) ?? [];
    const px = Number(style ?? /^([\d.]+)(px)?$/.exec(picture.attribs[what] ?? '')?.[1]);
    return px > 0 ? Math.round((px / pxPerMm) * 100) / 100 : undefined;
  };
  const width = said('width') ?? said('height') ?? 40;
  return { widthMm: width, heightMm: said('height') ?? width };
}

/**
 * Opens a page for the first time: its contents, and what is dropped from it. @throws DocumentError
 */
export function inspectHtml(bytes: Uint8Array): DocumentFacts {
  const { root, notes } = openHtml(bytes);
  const { paragraphs, pictures, rows } = walkHtml(root);
  const letters = paragraphs.reduce((n, p) => n + p.text.length, 0);
  if (letters > mostLetters)
    throw new DocumentError(
      `This page has ${letters.toLocaleString('en')} letters, more than the most for one person (${mostLetters.toLocaleString('en')}). Bring in only the part that changes.`,
    );
  const tables = [...new Set(rows.map((r) => r.table))];
  return {
    texts: [
      {
        part: htmlPart,
        paragraphs: paragraphs.map((p) => p.text),
        leads: paragraphs.flatMap((p, i) => (p.leads ? [i] : [])),
      },
    ],
    pictures: pictures.map((picture, number) => ({
      part: htmlPart,
      number,
      ...sizeOf(picture),
      about: picture.attribs.alt ?? '',
    })),
    rows: rows.map((row, number) => ({
      part: htmlPart,
      number,
      paragraphs: row.paragraphs,
      cells: row.cells.map((cell) => cell.paragraphs),
      table: tables.indexOf(row.table),
    })),
    notes,
  };
}

/** A page as text again. */
export const htmlText = (root: Document): string =>
  `<!doctype html>\n${DomUtils.getOuterHTML(root, { encodeEntities: 'utf8' })}`;
