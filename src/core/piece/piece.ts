import { z } from 'zod';
import type { DrawItem } from '../artwork/drawing';
import { artItems, symbolArt } from '../artwork/symbol-art';
import { measure } from '../look/layout';
import { contentOf, encodeOptionsOf, hexColour, partSchema, type Stamp } from '../payload/stamp';
import { keyColumn, type Column, type Values } from '../records/columns';
import { encode, EncodeError, symbologies, type CodeSymbol } from '../symbology';
import { fontKeys, fontsFor, type FontBook } from './fonts';
import { fitText } from './text';
import type { Stock } from './stock';

const box = { id: z.string(), x: z.number().min(-50).max(500), y: z.number().min(-50).max(500) };

export const stampElementSchema = z.object({ ...box, kind: z.literal('stamp'), stamp: z.string(), sizeMm: z.number().min(4).max(300) });

export const textElementSchema = z.object({
  ...box,
  kind: z.literal('text'),
  parts: z.array(partSchema).max(20),
  font: z.enum(fontKeys as [string, ...string[]]),
  sizePt: z.number().min(4).max(200),
  minPt: z.number().min(3).max(200),
  lines: z.number().int().min(1).max(20),
  width: z.number().min(2).max(500),
  align: z.enum(['left', 'centre', 'right']),
  colour: hexColour,
});

/** The thing the codes go on, designed once and made once per record. Lengths in mm from its top left. */
export const pieceSchema = z.object({
  stock: z.string(),
  elements: z.array(z.discriminatedUnion('kind', [stampElementSchema, textElementSchema])).max(60),
});
export type Piece = z.infer<typeof pieceSchema>;
export type PieceElement = Piece['elements'][number];
export type TextElement = z.infer<typeof textElementSchema>;
export type StampElement = z.infer<typeof stampElementSchema>;

/** Least distance of anything from the edge of a piece, in mm: what cutters and printers need. */
export const safeMarginMm = 3;

/** A first piece for a stock: the code at the right, the record's name and key beside it. */
export function firstPiece(stock: Stock, stamp: Stamp, columns: readonly Column[]): Piece {
  const { width, height } = stock.piece;
  const size = Math.min(24, height - 2 * safeMarginMm, width * 0.4);
  const textWidth = width - size - 3 * safeMarginMm;
  const name = columns.find((c) => c.role === 'name') ?? columns[0];
  const key = keyColumn(columns);
  const line = (id: string, column: Column, y: number, font: string, sizePt: number, lines: number): TextElement => ({
    kind: 'text',
    id,
    x: safeMarginMm + 1,
    y,
    parts: [{ kind: 'column', column: column.id }],
    font,
    sizePt,
    minPt: Math.max(6, Math.round(sizePt * 0.7)),
    lines,
    width: textWidth - 1,
    align: 'left',
    colour: '#1d1a26',
  });
  const elements: PieceElement[] = [
    { kind: 'stamp', id: 'code', stamp: stamp.id, x: width - size - safeMarginMm, y: (height - size) / 2, sizeMm: size },
  ];
  if (name) elements.push(line('name', name, Math.round(height * 2.2) / 10, 'bricolage-bold', height > 50 ? 18 : 13, 2));
  if (key && key !== name) elements.push(line('key', key, height - safeMarginMm - 6, 'mono', 10, 1));
  return { stock: stock.id, elements };
}

export interface PieceProblem {
  element: string;
  kind: 'over' | 'unprintable' | 'edge' | 'no-code';
  reason: string;
}

/** One place of the piece where a stamp lies, for reading it back. Lengths in mm. */
export interface PlacedCode {
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

export interface MadePiece {
  items: DrawItem[];
  codes: PlacedCode[];
  problems: PieceProblem[];
  /** Box of every element, for pointing at it. */
  boxes: { id: string; x: number; y: number; width: number; height: number; over: number }[];
}

/** The words of a text element for a record; blank columns leave nothing. */
export function wordsOf(element: TextElement, values: Values): string {
  return element.parts
    .map((part) => (part.kind === 'text' ? part.text : (values[part.column] ?? '')))
    .join('')
    .trim();
}

/** Fonts that the pieces of these records need, so that they can be loaded before anything is laid out. */
export function fontsForPiece(piece: Piece, records: readonly Values[]): Set<string> {
  const keys = new Set<string>();
  for (const element of piece.elements)
    if (element.kind === 'text')
      for (const values of records) for (const key of fontsFor(wordsOf(element, values), element.font)) keys.add(key);
  return keys;
}

export type SymbolOf = (stamp: Stamp, payload: string) => CodeSymbol;
export const encodeStamp: SymbolOf = (stamp, payload) => encode(stamp.symbology, payload, encodeOptionsOf(stamp));

/** Lays out the piece of one record: what is drawn, where its codes lie, and what is wrong with it. */
export function makePiece(
  piece: Piece,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  fonts: FontBook,
  symbolOf: SymbolOf = encodeStamp,
): MadePiece {
  const made: MadePiece = { items: [], codes: [], problems: [], boxes: [] };
  for (const element of piece.elements) {
    if (element.kind === 'stamp') placeStamp(element, stock, stamps, values, made, symbolOf);
    else placeText(element, stock, values, fonts, made);
  }
  return made;
}

function placeStamp(
  element: StampElement,
  stock: Stock,
  stamps: readonly Stamp[],
  values: Values,
  made: MadePiece,
  symbolOf: SymbolOf,
): void {
  const stamp = stamps.find((s) => s.id === element.stamp);
  const empty = { id: element.id, x: element.x, y: element.y, width: element.sizeMm, height: element.sizeMm, over: 0 };
  const content = stamp && contentOf(stamp, values);
  if (!stamp || content?.state !== 'said') {
    made.boxes.push(empty);
    made.problems.push({ element: element.id, kind: 'no-code', reason: stamp ? 'no code for this record' : 'its stamp was removed' });
    return;
  }
  const look = { ...stamp.look, sizeMm: element.sizeMm };
  let symbol: CodeSymbol;
  try {
    symbol = symbolOf(stamp, content.payload);
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
    made.boxes.push(empty);
    made.problems.push({ element: element.id, kind: 'no-code', reason: error.message });
    return;
  }
  const art = symbolArt(symbol, look);
  const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
  // the code keeps the middle of the place given to it; what whole dots leave over goes to both sides
  const x = element.x + (element.sizeMm - widthMm) / 2;
  const y = element.y + (element.sizeMm - heightMm) / 2;
  // white needs no ground of its own on white paper
  const plain = look.background.toLowerCase() === '#ffffff' && !look.behind;
  made.items.push(...artItems(plain ? { ...art, parts: art.parts.slice(1) } : art, x, y, moduleMm));
  made.codes.push({ stamp: stamp.id, symbol: art.symbol, moduleMm, x, y, width: widthMm, height: heightMm, dpi: stamp.look.dpi });
  made.boxes.push({ id: element.id, x, y, width: widthMm, height: heightMm, over: 0 });
  checkEdges(element.id, x, y, widthMm, heightMm, stock, made);
}

function placeText(element: TextElement, stock: Stock, values: Values, fonts: FontBook, made: MadePiece): void {
  const words = wordsOf(element, values);
  const fitted = fitText(words, element, element.x, element.y, element.width, fonts);
  made.items.push(...fitted.items);
  made.boxes.push({ id: element.id, x: element.x, y: element.y, width: element.width, height: fitted.heightMm, over: fitted.over });
  if (fitted.over > 0)
    made.problems.push({
      element: element.id,
      kind: 'over',
      reason: `runs over by ${fitted.over} ${fitted.over === 1 ? 'letter' : 'letters'}`,
    });
  if (fitted.unprintable.length > 0)
    made.problems.push({
      element: element.id,
      kind: 'unprintable',
      reason: `cannot print ${fitted.unprintable
        .slice(0, 4)
        .map((c) => `“${c}”`)
        .join(', ')}`,
    });
  checkEdges(element.id, element.x, element.y, element.width, fitted.heightMm, stock, made);
}

function checkEdges(id: string, x: number, y: number, width: number, height: number, stock: Stock, made: MadePiece): void {
  const slack = 0.01;
  if (x < -slack || y < -slack || x + width > stock.piece.width + slack || y + height > stock.piece.height + slack)
    made.problems.push({ element: id, kind: 'edge', reason: 'goes over the edge of the piece' });
}

/** What is wrong with a record's words on the piece, without drawing any code: quick enough for whole lists. */
export function wordProblems(piece: Piece, stock: Stock, stamps: readonly Stamp[], values: Values, fonts: FontBook): PieceProblem[] {
  const made: MadePiece = { items: [], codes: [], problems: [], boxes: [] };
  for (const element of piece.elements) {
    if (element.kind === 'text') placeText(element, stock, values, fonts, made);
    else {
      // a linear code takes the width given to it, and the middle of its height
      const stamp = stamps.find((s) => s.id === element.stamp);
      const bars = stamp && symbologies[stamp.symbology].linear;
      const height = bars ? Math.min(element.sizeMm, stamp.look.barMm ?? element.sizeMm * 0.3) : element.sizeMm;
      checkEdges(element.id, element.x, element.y + (element.sizeMm - height) / 2, element.sizeMm, height, stock, made);
    }
  }
  return made.problems;
}
