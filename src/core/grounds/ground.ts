import type { FontBook } from '../artwork/fonts';
import type { Saying, Stamp } from '../payload/stamp';
import { groundOf, type GroundKind, type Piece } from '../piece/piece';
import type { Values } from '../records/columns';

/** A kind of thing that codes are put on. */
export interface GroundDescription {
  kind: GroundKind;
  /** Offered as this one, of which it is a form. */
  offered?: GroundKind;
  /** As it is offered, and what it is for. */
  name: string;
  about: string;
  /** What this piece is put on, by which jobs of one list differ. */
  called(piece: Piece): string;
  /** Stamps whose codes it bears, by id. */
  stampsOn(piece: Piece): string[];
  /** Columns that it shows besides those of its codes, by id. */
  columnsOn(piece: Piece): string[];
  /**
   * What it says for a record: when this is another thing than when it was printed, the print is
   * out of date.
   */
  says(piece: Piece, stamps: readonly Stamp[], values: Values, saying?: Saying): unknown[];
  /** What is wrong with it for a record, in words. */
  problems(
    piece: Piece,
    stamps: readonly Stamp[],
    values: Values,
    fonts: FontBook,
    hasPicture?: (name: string) => boolean,
    saying?: Saying,
  ): { reason: string }[];
  /** What a run makes of it unless something else is chosen. */
  usualOutput: string;
}

const grounds = new Map<GroundKind, GroundDescription>();
export function addGround(ground: GroundDescription): void {
  grounds.set(ground.kind, ground);
}
/** Those that are offered. */
export const allGrounds = (): readonly GroundDescription[] =>
  [...grounds.values()].filter((ground) => ground.offered === undefined);

/** The description of what a piece is put on. @throws Error when nobody has described it */
export function onGround(piece: Piece): GroundDescription {
  const ground = grounds.get(groundOf(piece));
  if (!ground) throw new Error(`nobody has described the ground ${groundOf(piece)}`);
  return ground;
}
