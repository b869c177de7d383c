import type { GroundKind } from '../../piece/ground';

/**
 * Something that a run can make: what it is called, what can be chosen about it, and what it needs.
 * How it is made stands in `server/outputs`.
 */
export interface OutputDescription {
  id: string;
  /** As it stands in the sentence, and what it is for. */
  name: string;
  about: string;
  /** What it makes, counted: one, and many. */
  noun: readonly [one: string, many: string];
  /** Made of sheets with several pieces, and not record by record. */
  sheets?: boolean;
  /** Shows the job's piece, which needs a stamp on it; a record is printed by it. */
  piece?: boolean;
  /** Grounds whose pieces it makes, where it is not the same for all. */
  grounds?: readonly GroundKind[];
  /** Needs a program that not every machine has. */
  needs?: 'office';
  /** Each record has files of its own, named from a column. */
  named?: boolean;
  /** Its files come in one ZIP. */
  zipped?: boolean;
  /** What the sentence lets one choose. */
  choices?: readonly ('image' | 'name' | 'secrets')[];
  /** What its codes are read back from, where that is not the finished artwork. */
  readFrom?: string;
  /** What each record gets of it can be attached to a mail, under this name. */
  attached?: string;
  /** Goes out to each person once it is made. */
  delivers?: 'mail';
  /** What it makes leaves this Hand Stamp, so that somebody may want to be asked first. */
  leaves?: true;
  /** Makes no codes, and so no receipt. */
  noCodes?: boolean;
  /** Most records in one, and how that is said. */
  most?: { records: number; words: string };
}
