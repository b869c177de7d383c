/**
 * What pieces can be put on. To add one: a file here and a line below, the same in `judging`, its
 * schema in `piece/ground.ts`, and its band in the interface.
 */
import type { GroundKind } from '../piece/ground';
import { groundOf, type Piece } from '../piece/model';
import { document, page } from './document';
import type { GroundDescription } from './ground';
import { pdfs } from './pdfs';
import { stock } from './stock';

export type { GroundDescription } from './ground';
export { pdfKey, pdfOf, pdfsOf, type PdfOfRecord } from './pdfs';
export { documentOf } from './document';

const grounds: Record<GroundKind, GroundDescription> = { stock, document, html: page, pdfs };

/** Those that can be chosen. */
export const allGrounds: readonly GroundDescription[] = Object.values(grounds).filter(
  (ground) => ground.offered === undefined,
);

/** The description of a piece's ground. */
export const onGround = (piece: Piece): GroundDescription => grounds[groundOf(piece)];
