import { strFromU8, strToU8 } from 'fflate';
import type { Document, Element } from '@xmldom/xmldom';
import type { DocumentBlock, DocumentCode, DocumentGround, DocumentPlace } from '../piece/ground';
import type { Values } from '../records/columns';
import { openDocx, walk, type Drawn, type Paragraph, type Walked } from './docx';
import { add, object, plan, type TextEdit } from './edits';
import { DocumentError } from './error';
import { all, children, ns, packDocx, relationsPath, xmlBytes } from './package';
import { rowsOf } from './words';

/** A code as it is put into a document. */
export interface CodePicture {
  png: Uint8Array;
  svg: Uint8Array;
  /** What a scan does, for those who cannot see it. */
  about: string;
}

const emuPerMm = 36_000;
/** Numbers of our own pictures begin above those of any document. */
const firstNumber = 900_000;

type Edit = TextEdit<(document: Document) => Element>;

/** A finished example, opened once, of which the document of each record is made. */
export class DocxMerge {
  /** Files of the example, with what its codes need. */
  readonly files: Map<string, Uint8Array>;
  readonly parts: ReadonlyMap<string, Document>;
  /** The part that holds the text itself. */
  readonly main: string;
  readonly mediaOf = new Map<string, { png: string; svg: string; pngId: string; svgId: string }>();

  /** @throws DocumentError when it is no document, or not the one that its places were marked in */
  constructor(
    bytes: Uint8Array,
    readonly ground: DocumentGround,
  ) {
    const opened = openDocx(bytes);
    this.parts = opened.parts;
    this.files = opened.files;
    [this.main] = this.parts.keys();
    for (const [part, document] of this.parts)
      this.files.set(part, xmlBytes(document.documentElement!));
    for (const spot of [...ground.places, ...ground.codes.map((c) => c.at), ...ground.blocks])
      if (!this.parts.has(spot.part))
        throw new DocumentError('This is not the document in which the places were marked.');
    ground.codes.forEach((code, i) => this.addMedia(code, i + 1));
    if (ground.codes.length > 0) this.addTypes();
  }

  /**
   * The document of one record.
   * @param codes by the id of their place; what is missing leaves the picture of the example
   * @param date stands in the archive, so that the same record gives the same bytes
   */
  fill(values: Values, codes: ReadonlyMap<string, CodePicture>, date: Date): Uint8Array {
    const files = new Map(this.files);
    for (const [part, root] of this.fillParts(values, codes)) files.set(part, xmlBytes(root));
    for (const { id } of this.ground.codes) {
      const code = codes.get(id);
      const media = this.mediaOf.get(id)!;
      if (!code) continue;
      files.set(media.png, code.png);
      files.set(media.svg, code.svg);
    }
    return packDocx(files, date);
  }

  /**
   * The parts in which something is said of the record, filled.
   * @param mark is put behind the names by which the first part calls the pictures of its codes, where several records share a file
   */
  fillParts(
    values: Values,
    codes: ReadonlyMap<string, CodePicture>,
    mark = '',
  ): Map<string, Element> {
    const filled = new Map<string, Element>();
    for (const [part, document] of this.parts) {
      const of = <T extends { part: string }>(spots: readonly T[]) =>
        spots.filter((spot) => spot.part === part);
      const places = of(this.ground.places).filter((p) => !p.likely);
      const blocks = of(this.ground.blocks);
      const own = this.ground.codes.filter((c) => c.at.part === part && codes.has(c.id));
      if (places.length + blocks.length + own.length === 0) continue;
      const root = document.documentElement!.cloneNode(true) as Element;
      const walked = walk(root);
      const edits = new Map<Paragraph, Edit[]>();
      const lines: Paragraph[] = [];
      // before anything moves, since rows and words are found by their number
      for (const code of own)
        this.putCode(code, codes.get(code.id)!, walked, edits, part === this.main ? mark : '');
      for (const place of places)
        if (place.block === undefined)
          plan(place, values, walked.paragraphs[place.paragraph], edits, lines);
      for (const block of blocks)
        repeatRow(
          block,
          places.filter((p) => p.block === block.id),
          rowsOf(block, values),
          walked,
        );
      apply(edits, lines);
      filled.set(part, root);
    }
    return filled;
  }

  /** Never written over a picture that is there: others may show the same file. */
  private addMedia({ id, at }: DocumentCode, number: number): void {
    const base = at.part.replace(/[^/]*$/, '');
    let name = `code-${number}`;
    while (this.files.has(`${base}media/${name}.png`)) name += 'x';
    const media = {
      png: `${base}media/${name}.png`,
      svg: `${base}media/${name}.svg`,
      pngId: `codePng${number}`,
      svgId: `codeSvg${number}`,
    };
    this.mediaOf.set(id, media);
    const path = relationsPath(at.part);
    const relation = (rid: string, file: string) =>
      `<Relationship Id="${rid}" Type="${ns.r}/image" Target="media/${file}"/>`;
    const before = this.files.get(path);
    const text = before
      ? strFromU8(before)
      : `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="${ns.relations}"></Relationships>`;
    const both = relation(media.pngId, `${name}.png`) + relation(media.svgId, `${name}.svg`);
    const open = text.replace(/<Relationships([^>]*)\/>/, '<Relationships$1></Relationships>');
    this.files.set(path, strToU8(open.replace(/<\/(\w+:)?Relationships>/, (end) => both + end)));
  }

  private addTypes(): void {
    const path = '[Content_Types].xml';
    let text = strFromU8(this.files.get(path)!);
    for (const [ending, mime] of [
      ['png', 'image/png'],
      ['svg', 'image/svg+xml'],
    ])
      if (!new RegExp(`Extension="${ending}"`, 'i').test(text))
        text = text.replace(
          /<(\w+:)?Types\b[^>]*>/,
          (start) => `${start}<Default Extension="${ending}" ContentType="${mime}"/>`,
        );
    this.files.set(path, strToU8(text));
  }

  private putCode(
    code: DocumentCode,
    { about }: CodePicture,
    walked: Walked,
    edits: Map<Paragraph, Edit[]>,
    mark: string,
  ): void {
    const media = this.mediaOf.get(code.id)!;
    const [pngId, svgId] = [media.pngId + mark, media.svgId + mark];
    if (code.at.kind === 'picture') {
      const drawn = walked.pictures[code.at.picture];
      if (!drawn) throw new DocumentError('The document has no such picture any more.');
      showInstead(drawn, pngId, svgId, about);
      return;
    }
    const { paragraph, from, to } = code.at;
    const target = walked.paragraphs[paragraph];
    if (!target) throw new DocumentError('The document has no such paragraph any more.');
    add(edits, target, {
      from,
      to,
      words: object,
      drawing: (document) =>
        inlineDrawing(
          document,
          code,
          pngId,
          svgId,
          about,
          firstNumber + this.ground.codes.indexOf(code),
        ),
    });
  }
}

/** Has a picture of the example show another file, whole and as it is. */
function showInstead({ node, holder }: Drawn, pngId: string, svgId: string, about: string): void {
  if (holder.localName === 'imagedata') holder.setAttributeNS(ns.r, 'r:id', pngId);
  else {
    holder.setAttributeNS(ns.r, 'r:embed', pngId);
    for (const inside of children(holder)) holder.removeChild(inside);
    holder.appendChild(svgOf(holder.ownerDocument!, svgId));
    const fill = holder.parentNode as Element;
    for (const cut of all(fill, ns.a, 'srcRect')) fill.removeChild(cut);
  }
  for (const said of [...all(node, ns.wp, 'docPr'), ...all(node, ns.pic, 'cNvPr')])
    said.setAttribute('descr', about);
}

/** The sharp form of a picture, for programs that draw it (ISO/IEC 29500 extension list). */
function svgOf(document: Document, svgId: string): Element {
  const list = document.createElementNS(ns.a, 'a:extLst');
  const extension = document.createElementNS(ns.a, 'a:ext');
  extension.setAttribute('uri', '{96DAC541-7B7A-43D3-8B79-37D633B846F1}');
  const svg = document.createElementNS(ns.svg, 'asvg:svgBlip');
  svg.setAttributeNS(ns.r, 'r:embed', svgId);
  extension.appendChild(svg);
  list.appendChild(extension);
  return list;
}

function inlineDrawing(
  document: Document,
  code: DocumentCode,
  pngId: string,
  svgId: string,
  about: string,
  number: number,
): Element {
  const make = (
    space: string,
    name: string,
    attributes: Record<string, string | number> = {},
    ...inside: Element[]
  ): Element => {
    const element = document.createElementNS(space, name);
    for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, String(value));
    for (const one of inside) element.appendChild(one);
    return element;
  };
  const cx = Math.round(code.widthMm * emuPerMm);
  const cy = Math.round(code.heightMm * emuPerMm);
  const blip = make(ns.a, 'a:blip', {}, svgOf(document, svgId));
  blip.setAttributeNS(ns.r, 'r:embed', pngId);
  const picture = make(
    ns.pic,
    'pic:pic',
    {},
    make(
      ns.pic,
      'pic:nvPicPr',
      {},
      make(ns.pic, 'pic:cNvPr', { id: number, name: 'Code', descr: about }),
      make(ns.pic, 'pic:cNvPicPr'),
    ),
    make(ns.pic, 'pic:blipFill', {}, blip, make(ns.a, 'a:stretch', {}, make(ns.a, 'a:fillRect'))),
    make(
      ns.pic,
      'pic:spPr',
      {},
      make(
        ns.a,
        'a:xfrm',
        {},
        make(ns.a, 'a:off', { x: 0, y: 0 }),
        make(ns.a, 'a:ext', { cx, cy }),
      ),
      make(ns.a, 'a:prstGeom', { prst: 'rect' }, make(ns.a, 'a:avLst')),
    ),
  );
  return make(
    ns.w,
    'w:drawing',
    {},
    make(
      ns.wp,
      'wp:inline',
      { distT: 0, distB: 0, distL: 0, distR: 0 },
      make(ns.wp, 'wp:extent', { cx, cy }),
      make(ns.wp, 'wp:docPr', { id: number, name: 'Code', descr: about }),
      make(ns.a, 'a:graphic', {}, make(ns.a, 'a:graphicData', { uri: ns.pic }, picture)),
    ),
  );
}

function apply(edits: ReadonlyMap<Paragraph, readonly Edit[]>, lines: readonly Paragraph[]): void {
  const gone = new Set(lines);
  for (const [paragraph, own] of edits) if (!gone.has(paragraph)) edit(paragraph, own);
  for (const { node } of gone) {
    const holder = node.parentNode as Element;
    const alone = children(holder).filter((c) => c.localName === 'p').length === 1;
    // a cell, a header and a note are never without a paragraph; one that ends a section keeps the section
    const ends = all(node, ns.w, 'sectPr').length > 0;
    if (alone || ends)
      for (const run of children(node)) {
        if (run.localName !== 'pPr') node.removeChild(run);
      }
    else holder.removeChild(node);
  }
}

/** Writes edits into a paragraph: each takes the looks of the run in which it begins. From the last to the first, so that places stay. */
function edit(paragraph: Paragraph, edits: readonly Edit[]): void {
  const { node } = paragraph;
  const document = node.ownerDocument!;
  const texts = new Map(paragraph.pieces.map((piece) => [piece, piece.text]));
  const drawings: Edit[] = [];
  for (const one of [...edits].sort((a, b) => b.from - a.from)) {
    if (one.drawing) drawings.unshift(one);
    const met = paragraph.pieces.filter(
      (p) => p.from < one.to && p.from + p.text.length > one.from,
    );
    const first =
      met[0] ?? paragraph.pieces.findLast((p) => p.from <= one.from) ?? newPiece(paragraph, texts);
    for (const piece of met.length > 0 ? met : [first]) {
      const text = texts.get(piece)!;
      const start = Math.max(0, one.from - piece.from);
      const end = Math.max(start, one.to - piece.from);
      texts.set(piece, text.slice(0, start) + (piece === first ? one.words : '') + text.slice(end));
    }
  }
  for (const piece of paragraph.pieces) {
    const text = texts.get(piece)!;
    if (text === piece.text) continue;
    const run = piece.node.parentNode!;
    for (const part of text.split(/([\n\t\u2011\ufffc])/)) {
      const made =
        part === ''
          ? undefined
          : part === object
            ? drawings.shift()?.drawing?.(document)
            : part === '\n'
              ? document.createElementNS(ns.w, 'w:br')
              : part === '\t'
                ? document.createElementNS(ns.w, 'w:tab')
                : part === '\u2011'
                  ? document.createElementNS(ns.w, 'w:noBreakHyphen')
                  : textElement(document, part);
      if (made) run.insertBefore(made, piece.node);
    }
    run.removeChild(piece.node);
  }
}

function textElement(document: Document, text: string): Element {
  const element = document.createElementNS(ns.w, 'w:t');
  if (/^\s|\s$|\s\s/.test(text)) element.setAttribute('xml:space', 'preserve');
  // what XML cannot hold would make the whole document unreadable
  element.appendChild(
    document.createTextNode(text.replace(/[^\P{Cc}\t\n\r]|[\ufffe\uffff]/gu, '')),
  );
  return element;
}

/** A paragraph without words gets a run, in the looks of its mark. */
function newPiece(paragraph: Paragraph, texts: Map<Paragraph['pieces'][number], string>) {
  const document = paragraph.node.ownerDocument!;
  const run = document.createElementNS(ns.w, 'w:r');
  const node = document.createElementNS(ns.w, 'w:t');
  run.appendChild(node);
  paragraph.node.appendChild(run);
  const piece = { node, text: '', from: 0 };
  paragraph.pieces.push(piece);
  texts.set(piece, '');
  return piece;
}

/** Has a table row once for each row of values, in the place of that of the example and of those like it. */
function repeatRow(
  block: DocumentBlock,
  places: readonly DocumentPlace[],
  rows: readonly Values[],
  { rows: found }: Walked,
): void {
  const row = found[block.row];
  if (!row) throw new DocumentError('The document has no such table row any more.');
  const holder = row.node.parentNode!;
  for (const values of rows) {
    const made = row.node.cloneNode(true) as Element;
    // names inside a document stand once in it
    for (const name of ['bookmarkStart', 'bookmarkEnd'])
      for (const mark of all(made, ns.w, name)) mark.parentNode?.removeChild(mark);
    for (const one of [made, ...Array.from(made.getElementsByTagName('*'))])
      for (const id of ['w14:paraId', 'w14:textId']) one.removeAttribute(id);
    const { paragraphs } = walk(made);
    const edits = new Map<Paragraph, Edit[]>();
    const lines: Paragraph[] = [];
    for (const place of places) {
      const at = row.paragraphs.indexOf(place.paragraph);
      plan(place, values, paragraphs[at], edits, lines);
    }
    apply(edits, lines);
    holder.insertBefore(made, row.node);
  }
  for (const gone of found.slice(block.row, block.row + block.goes + 1))
    if (gone.table === row.table) gone.node.parentNode?.removeChild(gone.node);
}
