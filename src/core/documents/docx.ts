import type { Document, Element, Node } from '@xmldom/xmldom';
import { counted } from '../base/words';
import { DocumentError } from './error';
import type { PartText } from './find';
import { readable } from './links';
import {
  all,
  child,
  children,
  ns,
  parseXml,
  relationsOf,
  relationsPath,
  targetPath,
  unpackDocx,
  xmlBytes,
} from './package';

/** A picture of a document, in the order in which it stands there. */
export interface DocumentPicture {
  part: string;
  /** Number in its part, from 0. */
  number: number;
  widthMm: number;
  heightMm: number;
  /** Its alternative text. */
  about: string;
}
/** A row of a table. */
export interface DocumentRow {
  part: string;
  number: number;
  /** Paragraphs that stand in it. */
  paragraphs: number[];
  /** And in each of its cells. */
  cells?: number[][];
  /** Number of its table in its part. */
  table: number;
}
/** The analysis of a document that was brought in. */
export interface DocumentFacts {
  texts: PartText[];
  pictures: DocumentPicture[];
  rows: DocumentRow[];
  /** Features that are dropped, in words. */
  notes: string[];
}
export interface OpenDocx {
  files: Map<string, Uint8Array>;
  /** The parts that hold text: the document first, then its headers, footers and notes. */
  parts: ReadonlyMap<string, Document>;
}

const textParts = new Set(['header', 'footer', 'footnotes', 'endnotes']);
const emuPerMm = 36_000;

/** Opens a document and drops what is not supported. @throws DocumentError */
export function openDocx(bytes: Uint8Array): OpenDocx & { notes: string[] } {
  const files = unpackDocx(bytes);
  refuseMacros(files);
  const main = relationsOf(files, '').find((r) => r.type === 'officeDocument');
  const path = main && targetPath('', main.target);
  const body = path && files.get(path);
  if (!body)
    throw new DocumentError('This is not a DOCX document. Save it as DOCX and bring that in.');
  const paths = [path];
  for (const { type, target, external } of relationsOf(files, path)) {
    const part = targetPath(path, target);
    if (textParts.has(type) && !external && files.has(part) && !paths.includes(part))
      paths.push(part);
  }
  for (const name of files.keys())
    if (name.endsWith('.rels')) refuseOutside(files, name.replace(/_rels\/([^/]*)\.rels$/, '$1'));
  const parts = new Map(paths.map((part) => [part, parseXml(files.get(part)!, part)]));
  const first = parts.get(path)!.documentElement;
  if (first?.localName !== 'document' || first.namespaceURI !== ns.w)
    throw new DocumentError(
      'This form of DOCX cannot be read. Save it as an ordinary DOCX and bring that in.',
    );
  const notes: string[] = [];
  let changes = 0;
  let comments = 0;
  for (const part of parts.values()) {
    refuseFields(part);
    changes += acceptChanges(part);
    comments += dropComments(part);
  }
  if (changes > 0) notes.push(`${counted(changes, 'tracked change')} taken as accepted`);
  if (comments > 0) notes.push(`${counted(comments, 'comment')} left out`);
  return { files, parts, notes };
}

function refuseMacros(files: ReadonlyMap<string, Uint8Array>): void {
  const typesFile = files.get('[Content_Types].xml');
  if (!typesFile)
    throw new DocumentError('This is not a DOCX document. Save it as DOCX and bring that in.');
  const types = all(parseXml(typesFile, '[Content_Types].xml'), ns.types, '*').map(
    (t) => t.getAttribute('ContentType') ?? '',
  );
  if (
    types.some((t) => /macroEnabled|vbaProject|activeX/i.test(t)) ||
    [...files.keys()].some((name) => /vbaProject|\/activeX\//i.test(name))
  )
    throw new DocumentError(
      'This document has macros, programs that run when it is opened. Save it as a DOCX without macros and bring that in.',
    );
  if (types.some((t) => /template\.main\+xml/.test(t)))
    throw new DocumentError(
      'This is a template, not a document. Save it as DOCX and bring that in.',
    );
}

/**
 * Links are kept; a template that it was made from is forgotten; anything else from elsewhere is
 * refused, and never fetched.
 */
function refuseOutside(files: Map<string, Uint8Array>, part: string): void {
  const path = relationsPath(part);
  const root = parseXml(files.get(path)!, path).documentElement!;
  let forgotten = false;
  for (const relation of all(root, ns.relations, 'Relationship')) {
    const type = (relation.getAttribute('Type') ?? '').replace(/^.*\//, '');
    if (type === 'aFChunk')
      throw new DocumentError(
        'This document contains another file. Open it, save it again as DOCX, and bring that in.',
      );
    if (relation.getAttribute('TargetMode') !== 'External' || type === 'hyperlink') continue;
    if (type !== 'attachedTemplate')
      throw new DocumentError(
        `This document loads a part from elsewhere (${relation.getAttribute('Target')}), which Hand Stamp never downloads. Put it into the document and save it again.`,
      );
    forgotten = true;
    relation.parentNode?.removeChild(relation);
  }
  if (!forgotten) return;
  files.set(path, xmlBytes(root));
  for (const [name, bytes] of files)
    if (name.endsWith('settings.xml')) {
      const settings = parseXml(bytes, name).documentElement!;
      for (const template of all(settings, ns.w, 'attachedTemplate'))
        template.parentNode?.removeChild(template);
      files.set(name, xmlBytes(settings));
    }
}

function refuseFields(part: Document): void {
  const fields = [
    ...all(part, ns.w, 'instrText').map((e) => e.textContent ?? ''),
    ...all(part, ns.w, 'fldSimple').map((e) => e.getAttributeNS(ns.w, 'instr') ?? ''),
  ];
  const outside = fields.find((f) => /^\s*(INCLUDE|DDE|LINK\b|RD\b|IMPORT|DATABASE)/i.test(f));
  if (outside)
    throw new DocumentError(
      `This document loads a part from elsewhere (${outside.trim().slice(0, 80)}), which Hand Stamp never downloads. Put it into the document and save it again.`,
    );
}

const out = (node: Node): void => void node.parentNode?.removeChild(node);
function unwrap(element: Element): void {
  while (element.firstChild) element.parentNode!.insertBefore(element.firstChild, element);
  out(element);
}

/** Takes all tracked changes as accepted. Returns how many there were. */
function acceptChanges(part: Document): number {
  const gone = ['del', 'moveFrom'].flatMap((name) => all(part, ns.w, name));
  const kept = ['ins', 'moveTo'].flatMap((name) => all(part, ns.w, name));
  const told = gone.length + kept.length;
  for (const element of gone) {
    const holder = element.parentNode;
    // of a paragraph mark or a row that was taken out only the sign of it stands in its properties
    if (holder?.nodeName === 'w:trPr') out(holder.parentNode!);
    else out(element);
  }
  for (const element of kept) unwrap(element);
  for (const name of [
    'rPrChange',
    'pPrChange',
    'sectPrChange',
    'tblPrChange',
    'trPrChange',
    'tcPrChange',
    'tblGridChange',
    'numberingChange',
    'moveFromRangeStart',
    'moveFromRangeEnd',
    'moveToRangeStart',
    'moveToRangeEnd',
  ])
    for (const element of all(part, ns.w, name)) out(element);
  return told;
}

function dropComments(part: Document): number {
  const references = all(part, ns.w, 'commentReference');
  for (const name of ['commentRangeStart', 'commentRangeEnd', 'commentReference'])
    for (const element of all(part, ns.w, name)) out(element);
  return references.length;
}

/** A stretch of a paragraph's text that one element of the file holds. */
export interface TextPiece {
  node: Element;
  text: string;
  from: number;
}
export interface Paragraph {
  node: Element;
  text: string;
  pieces: TextPiece[];
  /** The same paragraph again, in the form that a text box has for older programs. */
  twin?: Paragraph;
  /** No text that is seen, but where a link leads; its node is the link. */
  leads?: true;
}
export interface Drawn {
  /** `w:drawing` or `w:pict`. */
  node: Element;
  /** What names the file of the picture. */
  holder: Element;
}
export interface WalkedRow<E> {
  node: E;
  table: E;
  paragraphs: number[];
  cells: { node: E; paragraphs: number[] }[];
}
export interface Walked {
  paragraphs: Paragraph[];
  pictures: Drawn[];
  rows: WalkedRow<Element>[];
}

const letters: Readonly<Record<string, string>> = {
  tab: '\t',
  br: '\n',
  cr: '\n',
  noBreakHyphen: '\u2011',
};

/** Where the links of a part lead, by the ids of their relations, as they are read. */
export type LinkTargets = ReadonlyMap<string, string>;
const noTargets: LinkTargets = new Map();

/** Links of a part that lead out of the document. */
export const linkTargets = (files: ReadonlyMap<string, Uint8Array>, part: string): LinkTargets =>
  new Map(
    relationsOf(files, part)
      .filter((r) => r.type === 'hyperlink' && r.external)
      .map((r) => [r.id, readable(r.target)]),
  );

/**
 * Paragraphs, pictures and table rows below an element, numbered in the order of the document;
 * after all paragraphs, where each link leads that has a target. Text
 * boxes stand twice in a file, once for older programs: those are the twins of the first ones and
 * have no numbers of their own.
 */
export function walk(root: Element, targets: LinkTargets = noTargets): Walked {
  const found: Walked = { paragraphs: [], pictures: [], rows: [] };
  const twins: Paragraph[] = [];
  const links: { link: Paragraph; row: Walked['rows'][number] | undefined }[] = [];
  const olderLinks: Paragraph[] = [];
  const visit = (
    element: Element,
    inside: Paragraph | undefined,
    row: Walked['rows'][number] | undefined,
    older: boolean,
  ): void => {
    const { namespaceURI: space, localName: name } = element;
    if (space === ns.mc && name === 'AlternateContent') {
      const before = found.paragraphs.length;
      const choice = child(element, ns.mc, 'Choice');
      const fallback = child(element, ns.mc, 'Fallback');
      if (choice) visit(choice, inside, row, older);
      if (!fallback) return;
      if (!choice) return visit(fallback, inside, row, older);
      const own = found.paragraphs.slice(before);
      const at = twins.length;
      visit(fallback, undefined, undefined, true);
      const again = twins.splice(at);
      if (own.length === again.length && own.every((p, i) => p.text === again[i]!.text))
        own.forEach((p, i) => (p.twin = again[i]));
      return;
    }
    if (space === ns.w) {
      if (name === 'tr') {
        const table = element.parentNode as Element;
        row = { node: element, table, paragraphs: [], cells: [] };
        if (!older) found.rows.push(row);
      } else if (name === 'hyperlink') {
        const text = targets.get(element.getAttributeNS(ns.r, 'id') ?? '');
        const link: Paragraph = { node: element, text: text ?? '', pieces: [], leads: true };
        if (text !== undefined && older) olderLinks.push(link);
        else if (text !== undefined) links.push({ link, row });
      } else if (name === 'tc') row?.cells.push({ node: element, paragraphs: [] });
      else if (name === 'p') {
        inside = { node: element, text: '', pieces: [] };
        (older ? twins : found.paragraphs).push(inside);
        if (!older) {
          row?.paragraphs.push(found.paragraphs.length - 1);
          row?.cells.at(-1)?.paragraphs.push(found.paragraphs.length - 1);
        }
      } else if (inside && element.parentNode?.nodeName.endsWith(':r')) {
        const text = name === 't' ? (element.textContent ?? '') : letters[name ?? ''];
        if (text !== undefined) {
          inside.pieces.push({ node: element, text, from: inside.text.length });
          inside.text += text;
          return;
        }
      }
      if (!older && (name === 'drawing' || name === 'pict')) {
        const holder =
          name === 'drawing'
            ? all(element, ns.a, 'blip').find((b) => b.getAttributeNS(ns.r, 'embed'))
            : Array.from(element.getElementsByTagName('v:imagedata')).find((b) =>
                b.getAttributeNS(ns.r, 'id'),
              );
        if (holder) found.pictures.push({ node: element, holder });
      }
    }
    for (const next of children(element)) visit(next, inside, row, older);
  };
  visit(root, undefined, undefined, false);
  for (const { link, row } of links) {
    const twin = olderLinks.findIndex((o) => o.text === link.text);
    if (twin >= 0) [link.twin] = olderLinks.splice(twin, 1);
    found.paragraphs.push(link);
    row?.paragraphs.push(found.paragraphs.length - 1);
  }
  return found;
}

/** Width and height of a picture as it stands in the text, in mm. */
function sizeOf({ node }: Drawn): { widthMm: number; heightMm: number } {
  const extent = all(node, ns.wp, 'extent')[0];
  if (extent)
    return {
      widthMm: Number(extent.getAttribute('cx')) / emuPerMm || 25,
      heightMm: Number(extent.getAttribute('cy')) / emuPerMm || 25,
    };
  const style = Array.from(node.getElementsByTagName('v:shape'))[0]?.getAttribute('style') ?? '';
  const length = (what: string): number => {
    const [, value, unit] =
      new RegExp(`(?:^|;)\\s*${what}:\\s*([\\d.]+)(pt|in|mm|cm|px)?`).exec(style) ?? [];
    const mm = { pt: 25.4 / 72, in: 25.4, mm: 1, cm: 10, px: 25.4 / 96 }[unit ?? 'pt'] ?? 25.4 / 72;
    return value ? Number(value) * mm : 25;
  };
  return { widthMm: length('width'), heightMm: length('height') };
}

/**
 * Opens a document for the first time: its contents, and what is dropped. @throws DocumentError
 */
export function inspectDocx(bytes: Uint8Array): DocumentFacts {
  const { files, parts, notes } = openDocx(bytes);
  const facts: DocumentFacts = { texts: [], pictures: [], rows: [], notes };
  for (const [part, document] of parts) {
    const targets = linkTargets(files, part);
    const { paragraphs, pictures, rows } = walk(document.documentElement!, targets);
    facts.texts.push({
      part,
      paragraphs: paragraphs.map((p) => p.text),
      leads: paragraphs.flatMap((p, i) => (p.leads ? [i] : [])),
    });
    pictures.forEach((drawn, number) =>
      facts.pictures.push({
        part,
        number,
        ...sizeOf(drawn),
        about: all(drawn.node, ns.wp, 'docPr')[0]?.getAttribute('descr') ?? '',
      }),
    );
    const tables = [...new Set(rows.map((r) => r.table))];
    rows.forEach((row, number) =>
      facts.rows.push({
        part,
        number,
        paragraphs: row.paragraphs,
        cells: row.cells.map((cell) => cell.paragraphs),
        table: tables.indexOf(row.table),
      }),
    );
  }
  const letters = facts.texts.reduce(
    (sum, { paragraphs }) => sum + paragraphs.reduce((n, p) => n + p.length, 0),
    0,
  );
  if (letters > mostLetters)
    throw new DocumentError(
      `This document has ${letters.toLocaleString('en')} letters, more than the most for one person (${mostLetters.toLocaleString('en')}). Bring in only the part that changes.`,
    );
  return facts;
}

/**
 * Most letters of an example: every value of a record is looked for in all of it, in many forms.
 */
const mostLetters = 300_000;
