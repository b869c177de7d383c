import { strFromU8, strToU8 } from 'fflate';
import type { Document, Element } from '@xmldom/xmldom';
import type { DocumentBlock, DocumentCode, DocumentGround, DocumentPlace } from '../piece/ground';
import type { Values } from '../records/columns';
import { DocxBlock } from './docx-block';
import { linkTargets, openDocx, walk, type Drawn, type LinkTargets, type Paragraph } from './docx';
import { add, object, plan, type TextEdit } from './edits';
import { DocumentError } from './error';
import { ledTo } from './links';
import { all, children, ns, packDocx, parseXml, relationsPath, xmlBytes } from './package';
import { codeKey, rowsOf } from './words';

/** A code as it is put into a document. */
export interface CodePicture {
  png: Uint8Array;
  svg: Uint8Array;
  /** The alternative text of a code: what a scan does. */
  about: string;
}

/** The picture of a code where it stands in the file of a part. */
export interface PlacedMedia {
  part: string;
  /** Paths of its two forms. */
  png: string;
  svg: string;
  pngId: string;
  svgId: string;
  /** The part's references to them, as XML. */
  relations: string;
  code: CodePicture;
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
  /** Where the links of each part lead in the example. */
  private readonly targets: ReadonlyMap<string, LinkTargets>;
  /** How the pictures of a code are named, by the id of its place. */
  private readonly names = new Map<string, { base: string; name: string; number: number }>();

  /** @throws DocumentError when it is no document, or not the one that its places were marked in */
  constructor(
    bytes: Uint8Array,
    readonly ground: DocumentGround,
  ) {
    const opened = openDocx(bytes);
    this.parts = opened.parts;
    this.files = opened.files;
    this.main = [...this.parts.keys()][0]!;
    this.targets = new Map(
      [...this.parts.keys()].map((part) => [part, linkTargets(this.files, part)]),
    );
    for (const [part, document] of this.parts)
      this.files.set(part, xmlBytes(document.documentElement!));
    for (const spot of [...ground.places, ...ground.codes.map((c) => c.at), ...ground.blocks])
      if (!this.parts.has(spot.part))
        throw new DocumentError('This is not the document in which the places were marked.');
    for (const part of this.parts.keys()) this.forgetLed(part);
    ground.codes.forEach((code, i) => this.nameMedia(code, i + 1));
    if (ground.codes.length > 0) this.addTypes();
  }

  /**
   * The document of one record.
   * @param codes by {@link codeKey}; a missing one leaves the example's picture
   * @param date in the archive, so that the same record gives the same bytes
   */
  fill(values: Values, codes: ReadonlyMap<string, CodePicture>, date: Date): Uint8Array {
    const files = new Map(this.files);
    const { parts, media, links } = this.fillParts(values, codes);
    for (const [part, root] of parts) files.set(part, xmlBytes(root));
    const relations = new Map<string, string>();
    for (const one of media) {
      files.set(one.png, one.code.png);
      files.set(one.svg, one.code.svg);
      relations.set(one.part, (relations.get(one.part) ?? '') + one.relations);
    }
    for (const [part, more] of links) relations.set(part, (relations.get(part) ?? '') + more);
    for (const [part, more] of relations) {
      const path = relationsPath(part);
      files.set(path, withRelations(files.get(path), more));
    }
    return packDocx(files, date);
  }

  /**
   * The parts in which something is said of the record, filled, and the pictures of its codes.
   * @param mark is put behind the names of those pictures, where several records share a file
   */
  fillParts(
    values: Values,
    codes: ReadonlyMap<string, CodePicture>,
    mark = '',
  ): {
    parts: Map<string, Element>;
    media: PlacedMedia[];
    /** Relations of the links that lead elsewhere for this record, by their part. */
    links: Map<string, string>;
  } {
    const parts = new Map<string, Element>();
    const links = new Map<string, string>();
    const media = new Map<string, PlacedMedia>();
    for (const [part, document] of this.parts) {
      const of = <T extends { part: string }>(spots: readonly T[]) =>
        spots.filter((spot) => spot.part === part);
      const spots: Spots = {
        places: of(this.ground.places).filter((p) => !p.likely),
        blocks: of(this.ground.blocks),
        codes: this.ground.codes.filter(
          (c) => c.at.part === part && (c.block !== undefined || codes.has(c.id)),
        ),
      };
      if (spots.places.length + spots.blocks.length + spots.codes.length === 0) continue;
      const root = document.documentElement!.cloneNode(true) as Element;
      const show = (code: DocumentCode, row?: number): Shown | undefined => {
        const key = codeKey(code, row);
        const picture = codes.get(key);
        if (!picture) return undefined;
        const placed = media.get(key) ?? this.placed(code, row, mark, picture);
        media.set(key, placed);
        return { ...placed, about: picture.about };
      };
      let own = 0;
      const relate = (target: string): string => {
        const id = `linkTo${++own}${mark}`;
        const to = target.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
        const relation = `<Relationship Id="${id}" Type="${ns.r}/hyperlink" Target="${to}" TargetMode="External"/>`;
        links.set(part, (links.get(part) ?? '') + relation);
        return id;
      };
      new Filling(spots, values, show, this.targets.get(part)!, relate).into(root);
      parts.set(part, root);
    }
    return { parts, media: [...media.values()], links };
  }

  private placed(
    { id, at: { part } }: DocumentCode,
    row: number | undefined,
    mark: string,
    code: CodePicture,
  ): PlacedMedia {
    const { base, name, number } = this.names.get(id)!;
    const own = (row === undefined ? '' : `r${row + 1}`) + mark;
    const file = `${name}${own && '-'}${own}`;
    const [pngId, svgId] = [`codePng${number}${own}`, `codeSvg${number}${own}`];
    const relation = (rid: string, ending: string) =>
      `<Relationship Id="${rid}" Type="${ns.r}/image" Target="media/${file}.${ending}"/>`;
    return {
      part,
      png: `${base}media/${file}.png`,
      svg: `${base}media/${file}.svg`,
      pngId,
      svgId,
      relations: relation(pngId, 'png') + relation(svgId, 'svg'),
      code,
    };
  }

  /**
   * Removes the example's link targets from a part if each of them follows the record: no document
   * contains the first person's address.
   */
  private forgetLed(part: string): void {
    const places = this.ground.places.filter(
      (p) => p.part === part && p.leads !== undefined && !p.likely,
    );
    if (places.length === 0) return;
    const targets = this.targets.get(part)!;
    const { paragraphs } = walk(this.parts.get(part)!.documentElement!, targets);
    const path = relationsPath(part);
    const root = parseXml(this.files.get(path)!, path).documentElement!;
    for (const relation of all(root, ns.relations, 'Relationship')) {
      const text = targets.get(relation.getAttribute('Id') ?? '');
      const links = paragraphs.flatMap((p, i) => (p.leads && p.text === text ? [i] : []));
      if (links.length > 0 && links.every((at) => places.some((p) => p.paragraph === at)))
        relation.parentNode!.removeChild(relation);
    }
    this.files.set(path, xmlBytes(root));
  }

  /** Never written over a picture that is there: others may show the same file. */
  private nameMedia({ id, at }: DocumentCode, number: number): void {
    const base = at.part.replace(/[^/]*$/, '');
    let name = `code-${number}`;
    while ([...this.files.keys()].some((path) => path.startsWith(`${base}media/${name}`)))
      name += 'x';
    this.names.set(id, { base, name, number });
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
}

/** The relations of a part, with more of them. */
export function withRelations(before: Uint8Array | undefined, more: string): Uint8Array {
  const text = before
    ? strFromU8(before)
    : `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n<Relationships xmlns="${ns.relations}"></Relationships>`;
  const open = text.replace(/<Relationships([^>]*)\/>/, '<Relationships$1></Relationships>');
  return strToU8(open.replace(/<\/(\w+:)?Relationships>/, (end) => more + end));
}

interface Spots {
  places: readonly DocumentPlace[];
  blocks: readonly DocumentBlock[];
  codes: readonly DocumentCode[];
}
interface Shown {
  pngId: string;
  svgId: string;
  about: string;
}

/** Fills a copy of a part with the values of one record. */
class Filling {
  /** Numbers of pictures that were not in the example. */
  private next = firstNumber;

  constructor(
    private readonly spots: Spots,
    private readonly values: Values,
    private readonly show: (code: DocumentCode, row?: number) => Shown | undefined,
    private readonly targets: LinkTargets,
    /** Takes down where a link leads, and gives the id of that. */
    private readonly relate: (target: string) => string,
  ) {}

  into(root: Element): void {
    const walked = walk(root, this.targets);
    // before anything moves, since rows and words are found by their number
    const blocks = this.spots.blocks.map((block) => new DocxBlock(block, walked));
    const inBlock = new Set(blocks.flatMap((block) => block.inside));
    const { edits, lines } = new Changes();
    for (const code of this.spots.codes) {
      if (code.block !== undefined) continue;
      if (code.at.kind === 'picture') {
        const drawn = walked.pictures[code.at.picture];
        if (!drawn) throw new DocumentError('The document no longer has this picture.');
        showInstead(drawn, this.show(code)!);
      } else if (!inBlock.has(code.at.paragraph))
        this.putCode(code, walked.paragraphs[code.at.paragraph], edits);
    }
    for (const place of this.spots.places)
      if (place.block === undefined && !inBlock.has(place.paragraph))
        plan(place, this.values, walked.paragraphs[place.paragraph], edits, lines);
    for (const block of blocks)
      block.repeat(rowsOf(block.block, this.values), (copy, row, number, of) =>
        this.intoCopy(block.block, copy, row, number, of),
      );
    apply(edits, lines, this.relate);
  }

  /** Fills a block once. */
  private intoCopy(
    block: DocumentBlock,
    copy: Element,
    row: Values,
    number: number,
    { paragraphs, pictures }: { paragraphs: readonly number[]; pictures: readonly number[] },
  ): void {
    const again = walk(copy, this.targets);
    const { edits, lines } = new Changes();
    const mine = (spot: { block?: string }) => spot.block === undefined || spot.block === block.id;
    for (const place of this.spots.places.filter(mine)) {
      const at = paragraphs.indexOf(place.paragraph);
      if (at >= 0) plan(place, place.block ? row : this.values, again.paragraphs[at], edits, lines);
    }
    for (const code of this.spots.codes.filter(mine)) {
      if (code.at.kind === 'words') {
        const at = paragraphs.indexOf(code.at.paragraph);
        if (at >= 0)
          this.putCode(code, again.paragraphs[at], edits, code.block ? number : undefined);
      } else if (code.block) {
        const drawn = again.pictures[pictures.indexOf(code.at.picture)];
        const shown = drawn && this.show(code, number);
        if (shown) showInstead(drawn, shown);
        // never the code of the example
        else drawn?.node.parentNode?.removeChild(drawn.node);
      }
    }
    for (const said of all(copy, ns.wp, 'docPr')) said.setAttribute('id', String(this.next++));
    apply(edits, lines, this.relate);
  }

  private putCode(
    code: DocumentCode,
    target: Paragraph | undefined,
    edits: Map<Paragraph, Edit[]>,
    row?: number,
  ): void {
    if (code.at.kind !== 'words') return;
    if (!target) throw new DocumentError('The document no longer has this paragraph.');
    const { from, to } = code.at;
    const shown = this.show(code, row);
    if (!shown) return add(edits, target, { from, to, words: '' });
    add(edits, target, {
      from,
      to,
      words: object,
      drawing: (document) => inlineDrawing(document, code, shown, this.next++),
    });
  }
}

class Changes {
  readonly edits = new Map<Paragraph, Edit[]>();
  readonly lines: Paragraph[] = [];
}

/** Has a picture of the example show another file, whole and as it is. */
function showInstead({ node, holder }: Drawn, { pngId, svgId, about }: Shown): void {
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
  { pngId, svgId, about }: Shown,
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

function apply(
  edits: ReadonlyMap<Paragraph, readonly Edit[]>,
  lines: readonly Paragraph[],
  relate: (target: string) => string,
): void {
  const gone = new Set(lines);
  for (const [paragraph, own] of edits)
    if (gone.has(paragraph)) continue;
    else if (paragraph.leads) leadTo(paragraph, own, relate);
    else edit(paragraph, own);
  for (const { node, leads } of gone) {
    if (leads) {
      withoutLink(node);
      continue;
    }
    const holder = node.parentNode as Element;
    const alone = children(holder).filter((c) => c.localName === 'p').length === 1;
    // a cell, a header and a note are never without a paragraph; one that ends a section keeps the
    // section
    const ends = all(node, ns.w, 'sectPr').length > 0;
    if (alone || ends)
      for (const run of children(node)) {
        if (run.localName !== 'pPr') node.removeChild(run);
      }
    else holder.removeChild(node);
  }
}

/** Has a link lead elsewhere; one that can lead nowhere is a link no more. */
function leadTo(
  { node, text }: Paragraph,
  edits: readonly Edit[],
  relate: (target: string) => string,
): void {
  const to = ledTo(text, edits);
  if (to === undefined) withoutLink(node);
  else node.setAttributeNS(ns.r, 'r:id', relate(to));
}

/** The words of a link without the link. */
function withoutLink(node: Element): void {
  while (node.firstChild) node.parentNode!.insertBefore(node.firstChild, node);
  node.parentNode!.removeChild(node);
}

/**
 * Writes edits into a paragraph: each takes the looks of the run in which it begins. From the last
 * to the first, so that places stay.
 */
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
