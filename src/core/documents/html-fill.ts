import {
  cloneNode,
  Element,
  isTag,
  isText,
  Text,
  type Document,
  type ParentNode,
} from 'domhandler';
import { DomUtils } from 'htmlparser2';
import type { DocumentCode, DocumentGround } from '../piece/ground';
import type { Values } from '../records/columns';
import { add, object, plan, type TextEdit } from './edits';
import { DocumentError } from './error';
import { openHtml, walkHtml, type HtmlParagraph } from './html';
import { HtmlBlock } from './html-block';
import { ledTo } from './links';
import { codeKey, rowsOf } from './words';

/** A code as it is put into a page. */
export interface HtmlCode {
  /** Address of its picture: `data:…`, or `cid:…` in a mail. */
  src: string;
  /** The alternative text of a code: what a scan does. */
  about: string;
}
type Edit = TextEdit<() => Element>;
const pxPerMm = 96 / 25.4;
const px = (mm: number): string => String(Math.round(mm * pxPerMm));

/** A finished page, opened once, of which that of each record is made. */
export class HtmlMerge {
  private readonly root: Document;

  /** @throws DocumentError if it is not a page, or not the one in which its places were marked */
  constructor(
    bytes: Uint8Array,
    private readonly ground: DocumentGround,
  ) {
    this.root = openHtml(bytes).root;
  }

  /**
   * The page of one record. @param codes by {@link codeKey}; a missing one leaves the example's
   * picture
   */
  fill(values: Values, codes: ReadonlyMap<string, HtmlCode>): Document {
    const root = cloneNode(this.root, true);
    const walked = walkHtml(root);
    const { edits, lines } = new Changes();
    const places = this.ground.places.filter((p) => !p.likely);
    const blocks = this.ground.blocks.map((block) => new HtmlBlock(block, walked));
    const inBlock = new Set(blocks.flatMap((block) => block.inside));
    for (const code of this.ground.codes) {
      const shown = codes.get(codeKey(code));
      if (!shown || code.block !== undefined) continue;
      if (code.at.kind === 'picture') {
        const picture = walked.pictures[code.at.picture];
        if (!picture) throw new DocumentError('The page no longer has this picture.');
        showInstead(picture, code, shown);
      } else if (!inBlock.has(code.at.paragraph))
        putCode(code, shown, walked.paragraphs[code.at.paragraph], edits);
    }
    for (const place of places)
      if (place.block === undefined && !inBlock.has(place.paragraph))
        plan(place, values, walked.paragraphs[place.paragraph], edits, lines);
    for (const block of blocks) {
      const mine = (spot: { block?: string }) =>
        spot.block === undefined || spot.block === block.block.id;
      block.repeat(rowsOf(block.block, values), (copy, row, number, inside) => {
        const again = walkHtml(copy);
        const own = new Changes();
        for (const place of places.filter(mine)) {
          const at = inside.paragraphs.indexOf(place.paragraph);
          if (at >= 0)
            plan(place, place.block ? row : values, again.paragraphs[at], own.edits, own.lines);
        }
        for (const code of this.ground.codes.filter(mine)) {
          const shown = codes.get(codeKey(code, code.block ? number : undefined));
          if (code.at.kind === 'words') {
            const at = inside.paragraphs.indexOf(code.at.paragraph);
            if (at >= 0) putCode(code, shown, again.paragraphs[at], own.edits);
          } else if (code.block) {
            const picture = again.pictures[inside.pictures.indexOf(code.at.picture)];
            if (picture && shown) showInstead(picture, code, shown);
            // never the code of the example
            else if (picture) DomUtils.removeElement(picture);
          }
        }
        apply(own.edits, own.lines);
      });
    }
    apply(edits, lines);
    return root;
  }
}

class Changes {
  readonly edits = new Map<HtmlParagraph, Edit[]>();
  readonly lines: HtmlParagraph[] = [];
}

function showInstead(picture: Element, { widthMm }: DocumentCode, { src, about }: HtmlCode): void {
  picture.attribs.src = src;
  picture.attribs.alt = about;
  // without either, it is as large as its place
  if (!picture.attribs.width && !/width/i.test(picture.attribs.style ?? ''))
    picture.attribs.width = px(widthMm);
}

function putCode(
  { at, widthMm, heightMm }: DocumentCode,
  code: HtmlCode | undefined,
  paragraph: HtmlParagraph | undefined,
  edits: Map<HtmlParagraph, Edit[]>,
): void {
  if (at.kind !== 'words') return;
  const { from, to } = at;
  if (!paragraph || to > paragraph.text.length)
    throw new DocumentError('This is not the page in which the places were marked.');
  if (!code) return add(edits, paragraph, { from, to, words: '' });
  add(edits, paragraph, {
    from,
    to,
    words: object,
    drawing: () =>
      new Element('img', {
        src: code.src,
        alt: code.about,
        width: px(widthMm),
        height: px(heightMm),
      }),
  });
}

function apply(
  edits: ReadonlyMap<HtmlParagraph, readonly Edit[]>,
  lines: readonly HtmlParagraph[],
): void {
  const gone = new Set(lines);
  for (const [paragraph, own] of edits) if (!gone.has(paragraph)) edit(paragraph, own);
  for (const { node, pieces, leads } of gone) {
    if (leads) {
      delete node.attribs.href;
      continue;
    }
    for (const piece of pieces) DomUtils.removeElement(piece.node);
    // a cell stays where its row has others
    const empty =
      !/\S/.test(DomUtils.textContent(node)) &&
      !DomUtils.findOne((e) => e.name === 'img', node.children);
    if (empty && node.parent && !/^(td|th|body|html)$/.test(node.name))
      DomUtils.removeElement(node);
  }
}

/** Writes edits into a paragraph: each in the looks of the piece in which it begins. */
function edit(paragraph: HtmlParagraph, edits: readonly Edit[]): void {
  if (paragraph.leads) return leadTo(paragraph, edits);
  const pieces = [...paragraph.pieces];
  if (pieces.length === 0) {
    // an empty block gets a text
    const node = new Text('');
    DomUtils.appendChild(paragraph.node, node);
    pieces.push({ node, text: '', from: 0 });
  }
  const texts = new Map(pieces.map((piece) => [piece, piece.text]));
  const drawings: Edit[] = [];
  for (const one of [...edits].sort((a, b) => b.from - a.from)) {
    if (one.drawing) drawings.unshift(one);
    const met = pieces.filter((p) => p.from < one.to && p.from + p.text.length > one.from);
    const first = met[0] ?? pieces.findLast((p) => p.from <= one.from) ?? pieces[0]!;
    for (const piece of met.length > 0 ? met : [first]) {
      const text = texts.get(piece)!;
      const start = Math.max(0, one.from - piece.from);
      const end = Math.max(start, one.to - piece.from);
      texts.set(piece, text.slice(0, start) + (piece === first ? one.words : '') + text.slice(end));
    }
  }
  for (const piece of pieces) {
    const text = texts.get(piece)!;
    if (text === piece.text && !text.includes(object)) continue;
    for (const part of text.split(/(\n|\ufffc)/)) {
      const made =
        part === ''
          ? undefined
          : part === object
            ? drawings.shift()?.drawing?.()
            : part === '\n'
              ? new Element('br', {})
              : new Text(part);
      if (made) DomUtils.prepend(piece.node, made);
    }
    DomUtils.removeElement(piece.node);
  }
}

/** Has a link lead elsewhere; never to what runs. */
function leadTo({ node, text }: HtmlParagraph, edits: readonly Edit[]): void {
  const to = ledTo(text, edits);
  if (to === undefined) delete node.attribs.href;
  else node.attribs.href = to;
}

/** The words of a page, for readers that show no HTML. */
export const wordsOfHtml = (root: ParentNode): string =>
  walkHtml(root)
    .paragraphs.filter((p) => !p.leads && !p.title)
    .map((p) => p.text.trim())
    .filter(Boolean)
    .join('\n\n');

/** The body of a page, or all of it if it has none. */
export function bodyOf(root: Document): ParentNode {
  return DomUtils.findOne((e) => e.name === 'body', root.children) ?? root;
}

/** The styles that a page brings. */
export const stylesOf = (root: Document): string =>
  DomUtils.getElementsByTagName('style', root)
    .map((e) => DomUtils.textContent(e))
    .join('\n');

/**
 * A page for the screen in which every stretch of text, picture and row has an id that leads back
 * to its place, as in the copy of a document.
 * @throws DocumentError
 */
export function shownHtml(bytes: Uint8Array): string {
  const { root } = openHtml(bytes);
  const { paragraphs, pictures, rows } = walkHtml(root);
  const marker = (id: string) => new Element('span', { id });
  for (const element of DomUtils.getElementsByTagName('*', root))
    // our own ids are given only here
    if (element.attribs.id?.startsWith('hs-')) delete element.attribs.id;
  for (const [p, { node, pieces, leads, title }] of paragraphs.entries()) {
    if (leads || title) continue;
    for (const piece of pieces) {
      if (!isText(piece.node)) continue;
      const run = new Element('span', { class: 'hs-run' });
      DomUtils.prepend(piece.node, marker(`hs-0-${p}-${piece.from}`));
      DomUtils.replaceElement(piece.node, run);
      DomUtils.appendChild(run, piece.node);
    }
    if (pieces.length === 0) DomUtils.appendChild(node, marker(`hs-0-${p}-0`));
  }
  for (const [i, picture] of pictures.entries())
    DomUtils.prepend(picture, marker(`hs-picture-0-${i}`));
  for (const [i, { node }] of rows.entries()) {
    const cell = node.children.find((c): c is Element => isTag(c));
    if (cell) DomUtils.prependChild(cell, marker(`hs-row-0-${i}`));
  }
  const body = bodyOf(root);
  const own = isTag(body) ? (body.attribs.style ?? '') : '';
  const ground = isTag(body) ? (body.attribs.bgcolor ?? '') : '';
  const css = stylesOf(root).replace(/(^|[\s,}])(html|body)(?=[\s,{.:])/g, '$1.hs-body');
  const style = [own, ground && `background:${ground}`].filter(Boolean).join(';');
  return `<style>${css}</style><section class="docx hs-body" style="${style.replaceAll('"', '&quot;')}">${DomUtils.getInnerHTML(body, { encodeEntities: 'utf8' })}</section>`;
}
