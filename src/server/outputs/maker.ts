import type { FrozenRun } from '../../core/job/document';
import type { FontBook } from '../../core/artwork/fonts';
import type { PictureOf } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';
import type { Database } from '../platform';

export interface MadePart {
  name: string;
  bytes: Uint8Array;
}
export interface MadeCode {
  stamp: string;
  payload: string;
  result: 'read' | 'differs' | 'unread';
  read: string | null;
  /**
   * Of a code in a table row of a document: its number within the stamp, from 1, and whose row it
   * is if that is a record of the list.
   */
  inRow?: InRow;
}
export interface InRow {
  nth: number;
  own?: { row: number; values: Values };
}
/** The result of one record: its files, and their codes, read back. */
export interface MadeRecord {
  parts: MadePart[];
  codes: MadeCode[];
}
/** A file of a run, its bytes as they are made. */
export interface MadeFile {
  /** What its name ends with, such as `.pdf`. */
  ending: string;
  mime: string;
  bytes: AsyncIterable<Uint8Array>;
}
/** The data of a record while its files are made. */
export interface RecordToMake {
  /** Place in the run, from 0. */
  seq: number;
  /** Name of its files, without an ending; given if the output names them. */
  name: string;
  values: Values;
  fonts: FontBook;
  pictures: PictureOf;
}
/** The data of a run when its file is put together. */
export interface RunToAssemble {
  db: Database;
  runId: number;
  frozen: FrozenRun;
  /** As it is in the file. */
  title: string;
}

/** Makes the records of a part of a run one by one, and then together what is quicker together. */
export interface RecordMaker {
  one(record: RecordToMake): Promise<MadeRecord>;
  together?(made: readonly MadeRecord[]): Promise<MadeRecord[]>;
}

/** What makes the records of a part of a run, of any output by its id. */
export type RecordMakerOf = (db: Database, frozen: FrozenRun, kind: string) => Promise<RecordMaker>;

/** How an output is made. */
export interface OutputMaker {
  /** One record; left out where sheets are made of many. Done again it gives the same. */
  perRecord?(frozen: FrozenRun, record: RecordToMake): Promise<MadeRecord>;
  /**
   * Opens what all its records share, once for a part of a run; gives what makes them. In place of
   * `perRecord`.
   */
  begin?(db: Database, frozen: FrozenRun, others: RecordMakerOf): Promise<RecordMaker>;
  /** The file of the whole run, from what was stored of its records or sheets. */
  assemble(run: RunToAssemble): Promise<MadeFile>;
}
