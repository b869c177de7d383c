import type { ColumnType, Generated, JSONColumnType } from 'kysely';
import type { Column, Values } from '../../core/records/columns';
import type { FrozenRun, JobDocument } from '../../core/job/document';
import type { BookPreview, RunState, TakeOptions } from '../../core/job/views';
import type { Mark, RowVerdict } from '../../core/run/judge';

type Timestamp = ColumnType<Date, Date | string | undefined, Date | string>;
/** JSON that is written as text and read back parsed. */
type Json<T> = ColumnType<T, string, string>;
type JsonOrNull<T> = ColumnType<T | null, string | null | undefined, string | null>;
type TimestampOrNull = ColumnType<Date | null, Date | string | null | undefined, Date | string | null>;

export interface Lists {
  id: Generated<number>;
  name: string;
  columns: JSONColumnType<Column[]>;
  source: string;
  revision: Generated<number>;
  created_by: string;
  created_at: Timestamp;
  updated_at: Timestamp;
}

export interface Records {
  id: Generated<number>;
  list_id: number;
  position: number;
  /** Values by column id, exactly as they came in. */
  values: Json<Values>;
}

export interface Revisions {
  list_id: number;
  number: number;
  kind: 'intake' | 'edit' | 'undo' | 'redo';
  note: string;
  created_by: string;
  created_at: Timestamp;
}

export interface CellEdit {
  record: number;
  column: string;
  before: string;
  after: string;
}

export interface Changes {
  id: Generated<number>;
  list_id: number;
  edits: Json<CellEdit[]>;
  undone: Generated<boolean>;
  created_by: string;
  created_at: Timestamp;
}

export interface Intakes {
  id: Generated<number>;
  file_name: string;
  bytes: Buffer;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: Generated<string | null>;
  preview: JsonOrNull<BookPreview>;
  take: JsonOrNull<TakeOptions>;
  job_id: Generated<number | null>;
  created_by: string;
  created_at: Timestamp;
}

export interface Jobs {
  id: Generated<number>;
  name: string;
  list_id: number;
  document: JSONColumnType<JobDocument>;
  version: Generated<number>;
  /** Rows still to be judged after a change; 0 when all marks are current. */
  judging: Generated<number>;
  created_by: string;
  created_at: Timestamp;
  updated_at: Timestamp;
}

export interface JobVersions {
  job_id: number;
  version: number;
  document: JSONColumnType<JobDocument>;
  created_by: string;
  created_at: Timestamp;
}

export interface JobRows {
  job_id: number;
  record_id: number;
  /** The record's place in its list, so that windows of the ledger need no join to be found. */
  position: number;
  records_mark: Mark;
  stamps_mark: Mark;
  piece_mark: Mark;
  overall: Mark;
  notes: Json<RowVerdict['notes']>;
  run_mark: 'ready' | 'failed' | null;
  run_id: number | null;
  run_page: number | null;
  run_place: number | null;
}

export interface Runs {
  id: Generated<number>;
  job_id: number;
  name: string;
  state: RunState;
  /** Everything the run is made from, frozen when it was asked for. */
  frozen: JSONColumnType<FrozenRun>;
  pieces: number;
  sheets: number;
  codes: Generated<number>;
  codes_read: Generated<number>;
  codes_failed: Generated<number>;
  pieces_made: Generated<number>;
  left_out: Json<{ title: string; reason: string }[]>;
  error: Generated<string | null>;
  created_by: string;
  created_at: Timestamp;
  started_at: TimestampOrNull;
  finished_at: TimestampOrNull;
}

export interface RunItems {
  run_id: number;
  /** Piece number in the run, from 0. */
  seq: number;
  record_id: number;
  values: Json<Values>;
}

export interface RunChunks {
  run_id: number;
  number: number;
  done: Generated<boolean>;
  glyphs: JsonOrNull<[font: string, glyphs: [number, string][]][]>;
}

export interface RunPages {
  run_id: number;
  page: number;
  /** Compressed content stream of the page. */
  content: Buffer;
}

export interface Receipts {
  run_id: number;
  seq: number;
  stamp: string;
  record_id: number;
  title: string;
  key: string;
  payload: string;
  /** From 1. */
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  read_text: string | null;
}

export interface Files {
  id: Generated<number>;
  run_id: number;
  name: string;
  mime: string;
  size: number;
  expires_at: TimestampOrNull;
  created_at: Timestamp;
}

export interface FilePieces {
  file_id: number;
  number: number;
  bytes: Buffer;
}

export interface Workers {
  id: string;
  seen_at: Timestamp;
}

export interface Settings {
  name: string;
  value: string;
}

export interface Schema {
  lists: Lists;
  records: Records;
  revisions: Revisions;
  changes: Changes;
  intakes: Intakes;
  jobs: Jobs;
  job_versions: JobVersions;
  job_rows: JobRows;
  runs: Runs;
  run_items: RunItems;
  run_chunks: RunChunks;
  run_pages: RunPages;
  receipts: Receipts;
  files: Files;
  file_pieces: FilePieces;
  workers: Workers;
  settings: Settings;
}
