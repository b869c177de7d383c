/** How what pieces are put on is judged: one for each ground. */
import { groundOf, type Piece } from '../../piece/model';
import type { GroundKind } from '../../piece/ground';
import { document } from './document';
import type { GroundJudging } from './judging';
import { pdfs } from './pdfs';
import { stock } from './stock';

const judging: Record<GroundKind, GroundJudging> = { stock, document, html: document, pdfs };

/** How the pieces on the ground of this one are judged. */
export const judgingOf = (piece: Piece): GroundJudging => judging[groundOf(piece)];
