import { z } from 'zod';
import { columnRoles, type Column, type ColumnRole, type Values } from '../records/columns';
import type { Mark, RowVerdict } from '../run/judge';
import type { SymbologyId } from '../symbology';
import type { JobDocument } from './document';

/** What the server tells the interface, and what the interface may ask: the shapes both sides share. */
export const filters = ['all', 'ready', 'look', 'out'] as const;
export type Filter = (typeof filters)[number];

export type RunState = 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';

export interface JobSummary {
  id: number;
  name: string;
  list: string;
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
  list: { id: number; name: string; source: string; columns: Column[]; revision: number; updated: string };
  counts: Record<Mark | 'all', number>;
  bands: { records: number; stamps: number; stampsOut: number; piece: number };
  /** Records still to be judged. */
  judging: number;
  canUndo: boolean;
  canRedo: boolean;
}

export interface LedgerRow {
  id: number;
  /** Place in the list, from 1. */
  number: number;
  values: Values;
  marks: { records: Mark; stamps: Mark; piece: Mark; overall: Mark; run: 'ready' | 'failed' | null };
  notes: RowVerdict['notes'];
  page: number | null;
  place: number | null;
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
  leftOut: { title: string; reason: string }[];
  error: string | null;
  created: string;
  started: string | null;
  finished: string | null;
  files: { id: number; name: string; size: number }[];
  /** The first codes that did not read back. */
  failures: { title: string; key: string; page: number; place: number; result: string; readAs: string | null }[];
}

/** What a file was found to hold, before any of it is taken. */
export interface BookPreview {
  /** How the file was read, in words: "CSV, semicolons, Windows-1252". */
  kind: string;
  sheets: SheetPreview[];
}

export interface SheetPreview {
  name: string;
  hidden: boolean;
  /** All rows, blank ones too. */
  rows: number;
  columns: number;
  /** The first rows as they were written. */
  head: string[][];
  /** Row that looks like the headings, from 0. */
  headerRow: number;
  roles: ColumnRole[];
  notes: string[];
}

export const takeSchema = z.object({
  sheet: z.number().int().min(0),
  headerRow: z.number().int().min(-1).max(50),
  roles: z.array(z.enum(columnRoles)).max(1000),
  name: z.string().trim().min(1, 'Give the job a name.').max(120),
});
export type TakeOptions = z.infer<typeof takeSchema>;

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
}
