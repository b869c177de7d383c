import type { GroundKind } from '../../piece/ground';

/**
 * Something that a run can make: its name, its choices, and its needs. How it is made is in
 * `server/outputs`.
 */
export interface OutputDescription {
  id: string;
  /** Its words in the sentence, and its purpose. */
  name: string;
  about: string;
  /** Its products, counted: one, and many. */
  noun: readonly [one: string, many: string];
  /** Made of sheets with several pieces, and not record by record. */
  sheets?: boolean;
  /** Shows the job's piece, which needs a stamp on it; it counts as a print of the record. */
  piece?: boolean;
  /** Grounds whose pieces it makes, if it is not the same for all. */
  grounds?: readonly GroundKind[];
  /** Needs a program that not every machine has. */
  needs?: 'office';
  /** Each record has files of its own, named from a column. */
  named?: boolean;
  /** Its files come in one ZIP. */
  zipped?: boolean;
  /** The choices in the sentence. */
  choices?: readonly ('image' | 'name' | 'secrets')[];
  /** What its codes are read back from, if it is not the finished artwork. */
  readFrom?: string;
  /** The file for each record can be attached to an email, under this name. */
  attached?: string;
  /** Goes out to each person once it is made. */
  delivers?: 'mail';
  /** It sends something to people, who may want to approve it first. */
  leaves?: true;
  /** Makes no codes, and so no receipt. */
  noCodes?: boolean;
  /** The most records in one, and the words for that. */
  most?: { records: number; words: string };
}
