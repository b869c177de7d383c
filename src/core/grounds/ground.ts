import type { Piece } from '../piece/model';
import type { GroundKind } from '../piece/ground';

/** A kind of thing that codes are put on. */
export interface GroundDescription {
  kind: GroundKind;
  /** Offered as this one, of which it is a form. */
  offered?: GroundKind;
  /** Its name and purpose in the choice. */
  name: string;
  about: string;
  /** Its own name, by which jobs of one list differ. */
  called(piece: Piece): string;
  /** Stamps whose codes are on it, by id. */
  stampsOn(piece: Piece): string[];
  /** Columns that it shows beside those of its codes, by id. */
  columnsOn(piece: Piece): string[];
  /** The default output. */
  usualOutput: string;
}
