import { captionStyle, captionWords } from './caption';
import { counted } from '../base/words';
import type { DrawItem } from '../drawing/drawing';
import { artItems, symbolArt } from '../artwork/symbol-art';
import { measure } from '../look/layout';
import { contentOf, encodeOptionsOf, type Stamp } from '../payload/stamp';
import type { Values } from '../records/columns';
import { pictureOf } from '../drawing/pixels';
import type { Picture } from '../drawing/picture';
import { smallestModuleMm } from '../look/look';
import { encode, EncodeError, type CodeSymbol } from '../symbology';
import { fontsFor, lackingFonts } from '../artwork/font-catalogue';
import type { FontBook } from '../artwork/fonts';
import {
  pictureNameOf,
  sideOf,
  wordsOf,
  type Piece,
  type PictureElement,
  type PieceElement,
  type Side,
  type StampElement,
  type TextElement,
} from './model';
import { fitText, textMends, weighText, type TextMend, type WeighedText } from './text';
import type { Stock } from './stock';

export interface PieceProblem {
  element: string;
  kind: 'over' | 'unprintable' | 'edge' | 'no-code' | 'picture' | 'small' | 'close';
  reason: string;
  /** Of words that run over, what would make them fit. */
  mends?: TextMend[];
}

/** One place of the piece where a stamp lies, for reading it back. Lengths in mm. */
export interface PlacedCode {
  element: string;
  stamp: string;
  symbol: CodeSymbol;
  moduleMm: number;
  /** The symbol with its quiet zone. */
  x: number;
  y: number;
  width: number;
  height: number;
  dpi: number;
}

export interface Area {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface MadePiece {
  items: DrawItem[];
  codes: PlacedCode[];
  problems: PieceProblem[];
  /** Box of every element, for pointing at it. */
  boxes: (Area & { id: string; over: number })[];
  /**
   * The area that each element really covers, in drawing order: for text its lines, not its box.
   */
  covered: (Area & { id: string })[];
}

/**
 * Symbols by stamp that were made elsewhere; null if there is none, `withheld` if there is one that
 * may not be shown.
 */
type GivenSymbols = ReadonlyMap<string, CodeSymbol | 'withheld' | null>;

export const nothingMade = (): MadePiece => ({
  items: [],
  codes: [],
  problems: [],
  boxes: [],
  covered: [],
});

export const meet = (a: Area, b: Area): boolean =>
  a.x < b.x + b.width && a.x + a.width > b.x && a.y < b.y + b.height && a.y + a.height > b.y;

/**
 * Fonts that the pieces of these records need, so that they can be loaded before anything is laid
 * out. With those `loaded`, the further ones for characters that they turned out not to have.
 */
export function fontsForPiece(
  piece: Piece,
  records: readonly Values[],
  loaded?: FontBook,
): Set<string> {
  const keys = new Set<string>();
  if (piece.ground) {
    const caption = piece.ground.kind === 'pdfs' ? piece.ground.caption : undefined;
    const texts = caption ? records.map((values) => captionWords(caption, values)) : [];
    const { font, han } = captionStyle;
    for (const key of loaded
      ? lackingFonts(texts, font, han, loaded)
      : texts.flatMap((text) => fontsFor(text, font, han)))
      keys.add(key);
    return keys;
  }
  if (loaded) {
    for (const element of piece.elements)
      if (element.kind === 'text')
        for (const key of lackingFonts(
          records.map((values) => wordsOf(element, values)),
          element.font,
          piece.han,
          loaded,
        ))
          keys.add(key);
    return keys;
  }
  for (const element of piece.elements)
    if (element.kind === 'text')
      for (const values of records)
        for (const key of fontsFor(wordsOf(element, values), element.font, piece.han))
          keys.add(key);
  return keys;
}

export type SymbolOf = (stamp: Stamp, payload: string) => CodeSymbol;
export const encodeStamp: SymbolOf = (stamp, payload) =>
  encode(stamp.symbology, payload, encodeOptionsOf(stamp));

/** Pictures of a list by file name or address; undefined where there is none of that name. */
export type PictureOf = (name: string) => Picture | undefined;

export interface MakeOptions {
  side?: Side;
  pictures?: PictureOf;
  symbolOf?: SymbolOf;
  /**
   * Symbols by stamp id that were made where their payloads may be known; null where the record has
   * no code.
   */
  symbols?: GivenSymbols;
}

/**
 * Lays out one side of a record's piece: its drawing, the positions of its codes, and its problems.
 */
export function makePiece(
  piece: Piece,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  fonts: FontBook,
  { side = 'front', pictures = () => undefined, symbolOf = encodeStamp, symbols }: MakeOptions = {},
): MadePiece {
  const made = nothingMade();
  for (const element of piece.elements) {
    if (sideOf(element) !== side) continue;
    if (element.kind === 'stamp')
      placeStamp(element, stock, stamps, values, made, symbolOf, symbols);
    else if (element.kind === 'text') placeText(element, piece.han, stock, values, fonts, made);
    else if (element.kind === 'picture') placePicture(element, stock, values, pictures, made);
    else placeShape(element, stock, made);
  }
  checkClear(made);
  return made;
}

/** Pictures, rules and boxes may reach into the bleed. */
export function checkBleed(
  id: string,
  x: number,
  y: number,
  width: number,
  height: number,
  stock: Stock,
  made: MadePiece,
): void {
  const slack = (stock.bleed ?? 0) + 0.01;
  if (
    x < -slack ||
    y < -slack ||
    x + width > stock.piece.width + slack ||
    y + height > stock.piece.height + slack
  )
    made.problems.push({ element: id, kind: 'edge', reason: 'goes over the edge of the piece' });
}

function placeShape(
  element: Extract<PieceElement, { kind: 'rule' | 'box' }>,
  stock: Stock,
  made: MadePiece,
): void {
  const { id, x, y, width, height } = element;
  const rect = (rx: number, ry: number, w: number, h: number, fill: string) =>
    made.items.push({ kind: 'rect', x: rx, y: ry, width: w, height: h, fill });
  if (element.kind === 'rule') rect(x, y, width, height, element.colour);
  else {
    if (element.fill) rect(x, y, width, height, element.fill);
    if (element.border) {
      const { colour } = element.border;
      const mm = Math.min(element.border.mm, width / 2, height / 2);
      rect(x, y, width, mm, colour);
      rect(x, y + height - mm, width, mm, colour);
      rect(x, y + mm, mm, height - 2 * mm, colour);
      rect(x + width - mm, y + mm, mm, height - 2 * mm, colour);
    }
  }
  made.boxes.push({ id, x, y, width, height, over: 0 });
  coverShape(element, made);
  checkBleed(id, x, y, width, height, stock, made);
}

/** A box that is not filled covers its border only, so that it may stand round a code. */
export function coverShape(
  element: Extract<PieceElement, { kind: 'rule' | 'box' }>,
  made: MadePiece,
): void {
  const { id, x, y, width, height } = element;
  if (element.kind === 'rule' || element.fill) made.covered.push({ id, x, y, width, height });
  else if (element.border) {
    const mm = Math.min(element.border.mm, width / 2, height / 2);
    made.covered.push(
      { id, x, y, width, height: mm },
      { id, x, y: y + height - mm, width, height: mm },
      { id, x, y, width: mm, height },
      { id, x: x + width - mm, y, width: mm, height },
    );
  }
}

function placePicture(
  element: PictureElement,
  stock: Stock,
  values: Values,
  pictures: PictureOf,
  made: MadePiece,
): void {
  const { id, x, y, width, height } = element;
  made.boxes.push({ id, x, y, width, height, over: 0 });
  checkBleed(id, x, y, width, height, stock, made);
  const name = pictureNameOf(element, values);
  if (name === '') return;
  const picture =
    name === undefined ? element.picture && pictureOf(element.picture) : pictures(name);
  if (!picture) {
    if (name !== undefined)
      made.problems.push({ element: id, kind: 'picture', reason: `has no picture called ${name}` });
    return;
  }
  // as large as fits, in the middle of its place
  const scale = Math.min(width / picture.width, height / picture.height);
  const [w, h] = [picture.width * scale, picture.height * scale];
  const lies = { x: x + (width - w) / 2, y: y + (height - h) / 2, width: w, height: h };
  made.covered.push({ id, ...lies });
  made.items.push({ kind: 'image', picture, ...lies });
}

/** Nothing may overlap a code or its quiet zone. */
export function checkClear(made: MadePiece): void {
  for (const code of made.codes) {
    const at = made.covered.findIndex((area) => area.id === code.element);
    if (made.covered.slice(at + 1).some((area) => area.id !== code.element && meet(area, code)))
      made.problems.push({
        element: code.element,
        kind: 'close',
        reason: 'something lies over the code or its quiet zone',
      });
  }
}

export function placeStamp(
  element: StampElement,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  made: MadePiece,
  symbolOf: SymbolOf,
  symbols?: GivenSymbols,
): void {
  const stamp = stamps.find((s) => s.id === element.stamp);
  const empty = {
    id: element.id,
    x: element.x,
    y: element.y,
    width: element.sizeMm,
    height: element.sizeMm,
    over: 0,
  };
  const given = stamp && symbols?.get(stamp.id);
  const content = given === undefined && stamp ? contentOf(stamp, values) : undefined;
  // whoever may not have the code sees its place
  if (given === 'withheld') return void made.boxes.push(empty);
  if (!stamp || given === null || (!given && content?.state !== 'said')) {
    made.boxes.push(empty);
    made.problems.push({
      element: element.id,
      kind: 'no-code',
      reason: stamp ? 'no code for this record' : 'its stamp was deleted',
    });
    return;
  }
  const quarters = (((stamp.look.turn ?? 0) + (element.turn ?? 0)) % 360) as 0 | 90 | 180 | 270;
  const look = {
    ...stamp.look,
    sizeMm: element.sizeMm,
    moduleDots: undefined,
    turn: quarters === 0 ? undefined : quarters,
  };
  let symbol: CodeSymbol;
  try {
    symbol = given ?? symbolOf(stamp, content?.state === 'said' ? content.payload : '');
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    made.boxes.push(empty);
    made.problems.push({ element: element.id, kind: 'no-code', reason: error.message });
    return;
  }
  const art = symbolArt(symbol, look);
  const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
  // the code keeps the middle of the place given to it; what whole dots leave over goes to both
  // sides
  const x = element.x + (element.sizeMm - widthMm) / 2;
  const y = element.y + (element.sizeMm - heightMm) / 2;
  const lies = { x, y, width: widthMm, height: heightMm };
  // white needs no ground of its own on white paper
  const plain =
    look.background.toLowerCase() === '#ffffff' &&
    !look.behind &&
    !made.covered.some((area) => meet(area, lies));
  made.items.push(...artItems(plain ? { ...art, parts: art.parts.slice(1) } : art, x, y, moduleMm));
  made.codes.push({
    element: element.id,
    stamp: stamp.id,
    symbol: art.symbol,
    moduleMm,
    ...lies,
    dpi: stamp.look.dpi,
  });
  made.boxes.push({ id: element.id, ...lies, over: 0 });
  made.covered.push({ id: element.id, ...lies });
  checkEdges(element.id, lies, stock, made);
  checkModule(element.id, moduleMm, made);
}

/** Least distance of a code from the edge of its piece, in mm. */
export const leastFromEdgeMm = 1;

function checkModule(id: string, moduleMm: number, made: MadePiece): void {
  if (moduleMm < smallestModuleMm - 0.0005)
    made.problems.push({
      element: id,
      kind: 'small',
      reason: `has squares of ${moduleMm.toFixed(2)} mm, finer than ${smallestModuleMm} mm`,
    });
}

function placeText(
  element: TextElement,
  han: Piece['han'],
  stock: Stock,
  values: Values,
  fonts: FontBook,
  made: MadePiece,
): void {
  const words = wordsOf(element, values);
  const style = { ...element, han };
  const fitted = fitText(words, style, element.x, element.y, element.width, fonts);
  made.items.push(...fitted.items);
  noteText(element, words, fitted, stock, made, () =>
    textMends(words, style, element.width, fonts),
  );
}

/** The problems of an element's text, without laying it out. */
export function weighWords(
  element: TextElement,
  han: Piece['han'],
  stock: Stock,
  values: Values,
  fonts: FontBook,
  made: MadePiece,
): void {
  const words = wordsOf(element, values);
  const style = han === undefined ? element : { ...element, han };
  const weighed = weighText(words, style, element.x, element.width, fonts);
  noteText(element, words, weighed, stock, made);
}

function noteText(
  { id, x, y, width }: TextElement,
  words: string,
  { heightMm, ink, over, unprintable }: WeighedText,
  stock: Stock,
  made: MadePiece,
  mends?: () => TextMend[],
): void {
  const box = { x, y, width, height: heightMm };
  made.boxes.push({ id, ...box, over });
  if (words !== '') made.covered.push({ id, ...ink, y, height: heightMm });
  if (over > 0)
    made.problems.push({
      element: id,
      kind: 'over',
      reason: `runs over by ${counted(over, 'letter')}`,
      ...(mends ? { mends: mends() } : {}),
    });
  if (unprintable.length > 0)
    made.problems.push({
      element: id,
      kind: 'unprintable',
      reason: `cannot print ${unprintable
        .slice(0, 4)
        .map((c) => `“${c}”`)
        .join(', ')}`,
    });
  checkEdges(id, box, stock, made);
}

/** Least distance of an area from the edges of its piece, in mm; below 0 when it goes over one. */
export const fromEdge = ({ x, y, width, height }: Area, { piece }: Stock): number =>
  Math.min(x, y, piece.width - x - width, piece.height - y - height);

function checkEdges(id: string, area: Area, stock: Stock, made: MadePiece): void {
  const slack = 0.01;
  const nearest = fromEdge(area, stock);
  if (nearest < -slack)
    made.problems.push({ element: id, kind: 'edge', reason: 'goes over the edge of the piece' });
  else if (nearest < leastFromEdgeMm - slack && made.codes.at(-1)?.element === id)
    made.problems.push({
      element: id,
      kind: 'close',
      reason: `comes closer than ${leastFromEdgeMm} mm to the edge of the piece`,
    });
}
