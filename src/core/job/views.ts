import { z } from 'zod';
import { columnRoles, type Column, type ColumnRole, type Values } from '../records/columns';
import type { DoorState, DoorTrouble } from '../payload/door';
import type { ProblemKind } from '../records/problems';
import { sheetChoicesSchema, type EncodingId, type Separator } from '../records/reading';
import type { ReformedKeys } from '../records/differences';
import type { Mark, RowVerdict } from '../run/judge';
import type { WorkedStep } from '../records/worked';
import type { CodeSymbol, SymbologyId } from '../symbology';
import type { JobDocument } from './document';
import type { Origin } from './origin';

/** What the server tells the interface, and what the interface may ask: the shapes both sides share. */
export const filters = ['all', 'ready', 'look', 'out', 'new', 'changed'] as const;
export type Filter = (typeof filters)[number];

export const bands = ['records', 'stamps', 'piece', 'run'] as const;
export type Band = (typeof bands)[number];

export type RunState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export interface JobSummary {
  id: number;
  name: string;
  list: string;
  /** What its pieces are printed on, by which jobs of one list differ. */
  on: string;
  records: number;
  ready: number;
  look: number;
  out: number;
  updated: string;
  lastRun?: { name: string; state: RunState; failed: number };
}

export interface JobView {
  id: number;
  name: string;
  version: number;
  document: JobDocument;
  list: {
    id: number;
    name: string;
    source: string;
    origin: Origin | null;
    columns: Column[];
    revision: number;
    updated: string;
    /** Records whose worked columns are still to be worked out. */
    working: number;
    /** Jobs that are made of it, this one among them. */
    jobs: number;
    /** A re-read that waits to be looked at. */
    reread: number | null;
    revisions: number;
  };
  /** How many records have each problem. */
  problems: { kind: ProblemKind; records: number; mendable: number }[];
  /** How each stamp fits over the whole list. */
  stampCounts: Record<string, Record<Mark, number>>;
  /** By state; `new` are ready and not yet printed, `changed` were printed and say or show something else since. */
  counts: Record<Filter, number>;
  bands: { records: number; stamps: number; stampsOut: number; piece: number };
  /** Records still to be judged. */
  judging: number;
  canUndo: boolean;
  canRedo: boolean;
}

/** Records that are loaded at a time. */
export const rowsInWindow = 100;

/** A window of a job's records, and how many there are in all. */
export interface LedgerWindow {
  total: number;
  rows: LedgerRow[];
}

export interface LedgerRow {
  id: number;
  /** Place in the list, from 1. */
  number: number;
  values: Values;
  marks: {
    records: Mark;
    stamps: Mark;
    piece: Mark;
    overall: Mark;
    run: 'ready' | 'failed' | null;
  };
  notes: RowVerdict['notes'];
  page: number | null;
  place: number | null;
}

/** What a run would make: how much, one sheet of it, and what is left out. */
export interface SheetProof {
  pieces: number;
  records: number;
  /** Of the records, those that need a look. */
  look: number;
  sheets: number;
  /** The pieces on the sheet that was asked for; `seq` counts over the run, from 0. */
  items: { seq: number; record: number; values: Values }[];
  /** How many records that were meant are left out, and the first of them with why. */
  left: number;
  leftOut: { title: string; reason: string; record: number }[];
}

/** How the codes of one page of a run read back. */
export interface ReceiptPage {
  page: number;
  codes: number;
  failed: number;
}

export interface ReceiptLine {
  piece: number;
  record: number;
  title: string;
  key: string;
  stamp: string;
  payload: string;
  page: number;
  place: number;
  result: 'read' | 'differs' | 'unread';
  readsAs: string;
}

export interface RunView {
  id: number;
  name: string;
  state: RunState;
  pieces: number;
  made: number;
  sheets: number;
  codes: number;
  read: number;
  failed: number;
  leftOut: { title: string; reason: string; record?: number }[];
  error: string | null;
  created: string;
  started: string | null;
  finished: string | null;
  /** What it makes, in the words of its sentence. */
  makes: string;
  kind: 'job' | 'quick';
  /** Prints pieces of this run again. */
  again: number | null;
  files: { id: number; name: string; size: number }[];
  /** Since when its files are not kept any more. */
  filesGone: string | null;
  /** The first codes that did not read back. */
  failures: {
    record: number;
    title: string;
    key: string;
    page: number;
    place: number;
    result: string;
    readAs: string | null;
  }[];
}

export interface RevisionCounts {
  added: number;
  changed: number;
  gone: number;
}

export interface RevisionView {
  number: number;
  kind: string;
  note: string;
  undone: boolean;
  counts: RevisionCounts | null;
  by: string;
  at: string;
  canUndo: boolean;
}

/** One record in an account of changes: what it was and what it is, or would be, cell by cell. */
export interface ChangedRow {
  seq: number;
  change: 'added' | 'changed' | 'gone';
  title: string;
  key: string;
  cells: { column: string; before: string; after: string; clash?: boolean }[];
}

/** What a re-read came to. */
export interface RereadTold extends RevisionCounts {
  unchanged: number;
  clashes: number;
  notes: string[];
  /** Headings that are new in the source, and columns that it has no more. */
  newColumns: string[];
  missingColumns: string[];
  /** What only a person can tell before it is taken. */
  asks?: RereadQuestion[];
  /** Why nothing can be taken before that is answered. */
  blocked?: string;
}

/** What may be the same under another heading, or keys in another form. */
export type RereadQuestion =
  | { kind: 'heading'; column: string; name: string; heading: string; records: number }
  | ({ kind: 'keys' } & ReformedKeys);

/** What a person said is the same: columns under new headings by heading, and keys whatever their form. */
export const sameSchema = z.object({
  headings: z.record(z.string(), z.string()).default({}),
  keys: z.boolean().default(false),
});
export type SaidSame = z.infer<typeof sameSchema>;

/** What a file was found to hold, before any of it is taken. */
export interface BookPreview {
  /** How the file was read, in words: "CSV, semicolons, Windows-1252". */
  kind: string;
  sheets: SheetPreview[];
  /** The sheet that looks most like a table of records. */
  suggested: number;
  /** Of a text: how it was read, and whether another reading is as likely. */
  text?: { encoding: EncodingId; separator: Separator; doubtful: boolean };
}

export interface SheetPreview {
  name: string;
  hidden: boolean;
  /** Filled rows. */
  rows: number;
  columns: number;
  /** The first rows as they were written. */
  head: string[][];
  /** The numbers that those rows have in the file. */
  numbers: number[];
  /** Row that looks like the headings, from 0; -1 when the first row is a record. */
  headerRow: number;
  roles: ColumnRole[];
  notes: string[];
  /** How much of it is hidden in the file: rows, columns with the names of the first of them, and where they are. */
  hiddenRows: number;
  hiddenColumns: number;
  hiddenNames: string[];
  hiddenAt: number[];
  hiddenRowsAt: number[];
  /** Rows are hidden by a filter. */
  filtered: boolean;
  /** Cells that are blank because one above them is merged downwards. */
  merged: number;
  /** What the last row says, where it looks like a sum and not like a record. */
  sum?: string;
}

export const takeSchema = z.object({
  sheet: z.number().int().min(0),
  ...sheetChoicesSchema.shape,
  roles: z.array(z.enum(columnRoles)).max(1000),
  name: z.string().trim().min(1, 'Give the job a name.').max(120),
  /** Changes of a file in the In-tray are taken by themselves where nothing is lost by it. */
  follow: z.boolean().optional(),
});
export type TakeOptions = z.infer<typeof takeSchema>;

/** How a re-read is taken: what becomes of cells that were changed here and there, and of records that are gone there. */
export const rereadTakeSchema = z.object({
  clashes: z.enum(['here', 'there']),
  gone: z.enum(['out', 'stay']),
});
export type RereadTake = z.infer<typeof rereadTakeSchema>;

/** How a symbology carries the content of a stamp over the list. */
export interface SymbologyFit {
  id: SymbologyId;
  name: string;
  about: string;
  /** Records whose content it cannot say, of those looked at. */
  misfits: number;
  /** Of the first of them. */
  reason?: string;
  mend?: string;
  /** Steps of a worked column that would mend them, and how many would still not fit. */
  steps?: WorkedStep[];
  left?: number;
}

/** A symbol whose payload is masked, its modules in base64; none where the record has no such code. */
export type SealedSymbol =
  | {
      symbol: Omit<CodeSymbol, 'modules' | 'payload'> & {
        modules: string;
        payload: string;
        readingHash: string;
      };
    }
  | { symbol: null; reason: string };

/** A cell that was changed elsewhere since the change of it was begun here. */
export interface CellClash {
  record: number;
  title: string;
  column: string;
  columnName: string;
  here: string;
  yours: string;
}

/** A record with one problem: what its cell holds, and what it would hold when mended. */
export interface ProblemRow {
  record: number;
  number: number;
  title: string;
  column: string;
  columnName: string;
  text: string;
  value: string;
  mended?: string;
}

export interface ListSummary {
  id: number;
  name: string;
  source: string;
  kind: Origin['kind'];
  records: number;
  /** Records with something to look at. */
  problems: number;
  revisions: number;
  stamps: string[];
  updated: string;
  jobs: { id: number; name: string }[];
}

/** Two runs side by side: what only one of them holds, and what says something else. */
export interface ComparedRuns {
  both: number;
  onlyFirst: { title: string; key: string }[];
  onlySecond: { title: string; key: string }[];
  differ: { title: string; key: string; stamp: string; first: string; second: string }[];
}

export interface PrintJobView {
  id: number;
  name: string;
  sheets: number;
  printed: number;
  state: 'waiting' | 'printing' | 'printed' | 'stopped';
  sent: string;
}

export interface PrinterView {
  id: number;
  name: string;
  dpi: number;
  /** In mm, to the right and down. */
  offsetX: number;
  offsetY: number;
  finest: number | null;
  jobs: PrintJobView[];
}

export interface LetterView {
  id: number;
  subject: string;
  body: string;
  job: number | null;
  at: string;
  files: { id: number; name: string; size: number }[];
}

/** A host that codes of a stamp lead to. */
export interface DoorHost {
  host: string;
  records: number;
  /** One of its addresses, to look at. */
  sample: string;
  trouble?: DoorTrouble;
}

export interface DoorReport {
  hosts: DoorHost[];
  /** Distinct web addresses, how many were asked for, and what they said. */
  addresses: number;
  asked: number;
  states: {
    state: DoorState;
    addresses: number;
    samples: { record: number; address: string; status: number | null; leadsTo: string | null }[];
  }[];
  asking: { done: number; of: number } | null;
}
