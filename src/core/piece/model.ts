import * as z from 'zod';
import { keptPictureSchema } from '../drawing/picture';
import { hexColour, partSchema } from '../payload/stamp';
import type { Values } from '../records/columns';
import { fontKeys, hanForms } from '../artwork/font-catalogue';
import { groundSchema, type DocumentGround, type GroundKind } from './ground';
import { stockSchema } from './stock';

const box = {
  id: z.string(),
  /** Of a code, its square: bars lie in the middle of it, and it may reach beyond the piece. */
  x: z.number().min(-150).max(1300),
  y: z.number().min(-150).max(1300),
  /** On the back of a piece with two sides; the front when left out. */
  side: z.literal('back').optional(),
  /** Cannot be moved until it is let go. */
  locked: z.boolean().optional(),
};
const extent = { width: z.number().min(0.1).max(1300), height: z.number().min(0.1).max(1300) };

const stampElementSchema = z.object({
  ...box,
  kind: z.literal('stamp'),
  stamp: z.string(),
  sizeMm: z.number().min(4).max(300),
  /** Quarter turns of this one code, beyond those of its look. */
  turn: z.union([z.literal(90), z.literal(180), z.literal(270)]).optional(),
});

const textElementSchema = z.object({
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

/**
 * A picture, the same on every piece or one for each record by the name or address in a column. It
 * keeps its proportion.
 */
const pictureElementSchema = z.object({
  ...box,
  ...extent,
  kind: z.literal('picture'),
  picture: keptPictureSchema.optional(),
  column: z.string().optional(),
});

const ruleElementSchema = z.object({
  ...box,
  ...extent,
  kind: z.literal('rule'),
  colour: hexColour,
});

const boxElementSchema = z.object({
  ...box,
  ...extent,
  kind: z.literal('box'),
  fill: hexColour.optional(),
  border: z.object({ mm: z.number().min(0.05).max(20), colour: hexColour }).optional(),
});

/**
 * The thing the codes go on, designed once and made once per record. Lengths in mm from its top
 * left.
 */
export const pieceSchema = z.object({
  stock: z.string(),
  /** Its ground, if it is not label stock; stock and elements are kept for when it is again. */
  ground: groundSchema.optional(),
  /** Measures of one's own, in place of a stock of the catalogue. */
  own: stockSchema.optional(),
  /** Two for a piece that is printed on its back too. */
  sides: z.literal(2).optional(),
  /** Forms of the characters that Chinese, Japanese and Korean share; Japanese when left out. */
  han: z.enum(hanForms).optional(),
  elements: z
    .array(
      z.discriminatedUnion('kind', [
        stampElementSchema,
        textElementSchema,
        pictureElementSchema,
        ruleElementSchema,
        boxElementSchema,
      ]),
    )
    .max(60),
});
export type Piece = z.infer<typeof pieceSchema>;
export type PieceElement = Piece['elements'][number];
export type TextElement = z.infer<typeof textElementSchema>;
export type StampElement = z.infer<typeof stampElementSchema>;
export type PictureElement = z.infer<typeof pictureElementSchema>;
/** The document that a piece is put on; undefined where it is put on something else. */
export const documentGround = ({ ground }: Pick<Piece, 'ground'>): DocumentGround | undefined =>
  ground && 'document' in ground ? ground : undefined;

export const groundOf = (piece: Pick<Piece, 'ground'>): GroundKind => piece.ground?.kind ?? 'stock';
export type Side = 'front' | 'back';
export const sidesOf = (piece: Piece): readonly Side[] =>
  piece.sides === 2 ? ['front', 'back'] : ['front'];
export const sideOf = (element: PieceElement): Side => element.side ?? 'front';

const groundWithout = (
  ground: DocumentGround | undefined,
  stamp: string,
): { ground?: DocumentGround } =>
  ground ? { ground: { ...ground, codes: ground.codes.filter((c) => c.stamp !== stamp) } } : {};

/** A piece without the codes of a stamp that is taken away. */
export const withoutStamp = (piece: Piece, stamp: string): Piece => ({
  ...piece,
  elements: piece.elements.filter((e) => e.kind !== 'stamp' || e.stamp !== stamp),
  // a piece on PDFs has one stamp; without it nothing is put on them
  ...groundWithout(documentGround(piece), stamp),
});

/** The text of an element for a record; blank columns leave nothing. */
export function wordsOf(element: TextElement, values: Values): string {
  return element.parts
    .map((part) => (part.kind === 'text' ? part.text : (values[part.column] ?? '')))
    .join('')
    .trim();
}

/**
 * Name or address of the picture that an element wants for a record; undefined for one that is
 * fixed.
 */
export const pictureNameOf = (element: PictureElement, values: Values): string | undefined =>
  element.column === undefined ? undefined : (values[element.column] ?? '').trim();

/** Least distance of anything from the edge of a piece, in mm: what cutters and printers need. */
export const safeMarginMm = 3;
