import type { FontBook } from '../../artwork/fonts';
import type { Saying, Stamp } from '../../payload/stamp';
import type { Piece } from '../../piece/model';
import type { Values } from '../../records/columns';

/** A problem of what is made for a record. */
export interface GroundProblem {
  reason: string;
  /** Nothing with a code can be made, so there is nothing to read back either. */
  none?: boolean;
}

/** The checks of a ground. They need the layout code, so they never run in a window. */
export interface GroundJudging {
  /**
   * Its contents for a record: if they differ from those that were printed, the print is out of
   * date.
   */
  says(piece: Piece, stamps: readonly Stamp[], values: Values, saying?: Saying): unknown[];
  /** Its problems for a record, in words. */
  problems(
    piece: Piece,
    stamps: readonly Stamp[],
    values: Values,
    fonts: FontBook,
    hasPicture?: (name: string) => boolean,
    saying?: Saying,
  ): GroundProblem[];
}
