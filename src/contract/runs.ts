import * as z from 'zod';
import { outputSchema } from '../core/run/outputs';
import { byId, fileSchema, nameOf, newId, ok, valuesSchema, when } from './common';
import { mailCountsSchema } from './mail';
import { runStateSchema, sortSchema, viewSchema } from './jobs';
import { defineRoute } from './route';

/** The records of a job for a run. */
export const whichRecords = [
  'ready',
  'with-code',
  'ticked',
  'filtered',
  'new',
  'changed',
  'failed',
] as const;
export type WhichRecords = (typeof whichRecords)[number];

export const newRunSchema = z.object({
  name: nameOf('the run'),
  /**
   * Ready records; all with a code, also those that need a look; ticked, shown, not yet printed or
   * changed ones; or those whose code failed in an earlier run.
   */
  which: z.enum(whichRecords),
  ticked: z.array(z.number().int()).max(200_000).default([]),
  /** For `filtered`: the view, in its order. */
  view: viewSchema.optional(),
  output: outputSchema.optional(),
  /** Of `failed`: the run whose failed codes are made again. */
  from: z.number().int().optional(),
  /** The order of the pieces, if it is not the list's or the view's. */
  sort: sortSchema.optional(),
  /** First seat of the first sheet, if it differs from the job's. */
  start: z.number().int().min(1).max(5000).optional(),
  printer: z.number().int().optional(),
});
export type NewRun = z.input<typeof newRunSchema>;

export const quickSchema = z.object({
  stamp: z.string(),
  records: z.array(z.number().int()).min(1, 'Tick the records to print first.').max(5000),
});

const leftOutSchema = z.strictObject({
  title: z.string(),
  reason: z.string(),
  record: z.number().optional(),
});

/** What a run would make: the count, one sheet of it, and what is left out. */
export const sheetProofSchema = z.strictObject({
  pieces: z.number(),
  records: z.number(),
  /** How many of the records need a look. */
  look: z.number(),
  sheets: z.number(),
  /** The pieces on the requested sheet; `seq` counts over the run, from 0. */
  items: z.array(z.strictObject({ seq: z.number(), record: z.number(), values: valuesSchema })),
  /** How many requested records are left out, and the first of them with the reason. */
  left: z.number(),
  leftOut: z.array(leftOutSchema.required()),
  /** For documents: values of the example's record that are in another record's document. */
  stays: z
    .strictObject({
      madeFor: z.string(),
      values: z.array(z.strictObject({ column: z.string(), value: z.string() })),
    })
    .optional(),
  /** For emails: addresses that get more than one, the first of them, and for how many records. */
  shared: z.strictObject({
    records: z.number(),
    first: z.array(z.strictObject({ address: z.string(), titles: z.array(z.string()) })),
  }),
});
export type SheetProof = z.infer<typeof sheetProofSchema>;

/** The read-back of the codes of one page of a run. */
export const receiptPageSchema = z.strictObject({
  page: z.number(),
  codes: z.number(),
  failed: z.number(),
  /** Codes that were read from the paper. */
  paper: z.number(),
});
export type ReceiptPage = z.infer<typeof receiptPageSchema>;

export const receiptLineSchema = z.strictObject({
  piece: z.number(),
  record: z.number(),
  title: z.string(),
  key: z.string(),
  stamp: z.string(),
  payload: z.string(),
  page: z.number(),
  place: z.number(),
  result: z.enum(['read', 'differs', 'unread']),
  readsAs: z.string(),
  /** Whether it was read from the paper; null if no picture showed its page. */
  paper: z.enum(['read', 'not-read']).nullable(),
});
export type ReceiptLine = z.infer<typeof receiptLineSchema>;

export const runViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: runStateSchema,
  pieces: z.number(),
  made: z.number(),
  /** For a waiting run: the pieces of other runs that are made before it. */
  ahead: z.number(),
  sheets: z.number(),
  codes: z.number(),
  read: z.number(),
  failed: z.number(),
  leftOut: z.array(leftOutSchema),
  error: z.string().nullable(),
  /** Pictures of its printed sheets were read. */
  onPaper: z.boolean(),
  created: when,
  started: when.nullable(),
  finished: when.nullable(),
  /** What it makes, in the words of its sentence. */
  makes: z.string(),
  kind: z.enum(['job', 'quick']),
  /** Prints pieces of this run again. */
  again: z.number().nullable(),
  files: z.array(fileSchema),
  /** Of a run of emails: their states. */
  mail: mailCountsSchema.nullable(),
  /** Since when its files are no longer kept. */
  filesGone: when.nullable(),
  /** The first codes that did not read back. */
  failures: z.array(
    z.strictObject({
      record: z.number(),
      title: z.string(),
      key: z.string(),
      page: z.number(),
      place: z.number(),
      result: z.string(),
      readAs: z.string().nullable(),
    }),
  ),
});
export type RunView = z.infer<typeof runViewSchema>;

const namedRecord = z.strictObject({ title: z.string(), key: z.string() });
/** Two runs side by side: what only one of them contains, and what differs. */
export const comparedRunsSchema = z.strictObject({
  both: z.number(),
  onlyFirst: z.array(namedRecord),
  onlySecond: z.array(namedRecord),
  differ: z.array(namedRecord.extend({ stamp: z.string(), first: z.string(), second: z.string() })),
});
export type ComparedRuns = z.infer<typeof comparedRunsSchema>;

export const listRuns = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/runs',
  right: 'viewer',
  of: 'job',
  about: 'The latest runs of a job.',
  params: byId,
  answer: z.strictObject({ runs: z.array(runViewSchema) }),
});
export const startRun = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/runs',
  right: 'editor',
  of: 'job',
  about: 'Starts a run with a job and its chosen records as they are now.',
  params: byId,
  body: newRunSchema,
  size: 'records',
  answer: newId,
});
export const proveRun = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/proof',
  right: 'viewer',
  of: 'job',
  asks: true,
  about: 'What a run would make.',
  params: byId,
  body: z.object({ sheet: z.number().int().min(0).max(100_000), run: newRunSchema }),
  size: 'records',
  answer: sheetProofSchema,
});
export const quickPrint = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/quick',
  right: 'editor',
  of: 'job',
  about: 'Prints code and title of some records, without changing the piece of the job.',
  params: byId,
  body: quickSchema,
  size: 'records',
  answer: newId,
});
export const viewRun = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}',
  right: 'viewer',
  of: 'run',
  about: 'The progress and result of a run.',
  params: byId,
  answer: runViewSchema,
});
export const removeRun = defineRoute({
  method: 'DELETE',
  path: '/api/runs/{id}',
  right: 'editor',
  of: 'run',
  about: 'Deletes a run with its files.',
  params: byId,
  answer: ok,
});
export const runAgain = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/again',
  right: 'editor',
  of: 'run',
  about: 'Runs a run again: the same pieces from the saved records.',
  params: byId,
  answer: newId,
});
export const cancelRun = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/cancel',
  right: 'editor',
  of: 'run',
  about: 'Stops a run.',
  params: byId,
  answer: ok,
});
export const finishRun = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/finish',
  right: 'editor',
  of: 'run',
  about: 'Makes the files of a stopped run from its finished part.',
  params: byId,
  answer: ok,
});
export const compareRuns = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/compare',
  right: 'viewer',
  of: 'run',
  about: 'Two runs compared.',
  params: byId,
  query: z.object({ with: z.coerce.number().int() }),
  answer: comparedRunsSchema,
});
export const runPages = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/pages',
  right: 'viewer',
  of: 'run',
  about: 'How each page of a run was read back.',
  params: byId,
  answer: z.strictObject({ pages: z.array(receiptPageSchema) }),
});
export const runLines = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/lines',
  right: 'viewer',
  of: 'run',
  about: 'Lines of a receipt: of one page, or those that did not read.',
  params: byId,
  query: z.object({ page: z.coerce.number().int().optional() }),
  answer: z.strictObject({ lines: z.array(receiptLineSchema) }),
});
/** What was read in pictures of printed sheets. */
export const paperSchema = z.object({
  pictures: z
    .array(
      z.object({
        name: z.string().max(200),
        /** Of the picture, in the unit of its codes. */
        width: z.number().positive().optional(),
        height: z.number().positive().optional(),
        codes: z
          .array(
            z.object({
              text: z.string().min(1).max(8000),
              /** Its middle, in whatever unit the picture has. */
              x: z.number(),
              y: z.number(),
            }),
          )
          .max(2000),
      }),
    )
    .min(1)
    .max(50),
});
export const paperPictureSchema = z.strictObject({
  name: z.string(),
  found: z.number(),
  /** Codes that are printed on the pages it shows. */
  printed: z.number(),
  pages: z.array(z.number()),
  other: z.number(),
  otherRuns: z.array(z.string()),
  /** Earlier pictures that show one of its pages: the sheet may have been printed twice. */
  before: z.array(z.string()),
  /** By how much a scan shows the sheet shifted, in mm to the right and down. */
  shift: z.strictObject({ x: z.number(), y: z.number() }).nullable(),
  /** Codes of the run that are not at their seat. */
  misplaced: z.array(z.strictObject({ title: z.string(), page: z.number(), place: z.number() })),
});
export type PaperPicture = z.infer<typeof paperPictureSchema>;
export const readPaper = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/paper',
  right: 'editor',
  of: 'run',
  size: 'document',
  about: 'Checks which codes of a run read on pictures of its printed sheets.',
  params: byId,
  body: paperSchema,
  answer: z.strictObject({ pictures: z.array(paperPictureSchema) }),
});
/** The result of one picture of a file, and its run. */
export const paperToldSchema = z.strictObject({
  run: z.strictObject({ id: z.number(), name: z.string(), job: z.number() }).nullable(),
  /** Codes that read on it. */
  codes: z.number(),
  picture: paperPictureSchema.nullable(),
  /** The test page of a printer, and of how many dots the finest module is that reads on it. */
  testPage: z.strictObject({ printer: z.string(), finest: z.number() }).nullable().default(null),
});
export type PaperTold = z.infer<typeof paperToldSchema>;
export const paperFileSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: z.enum(['waiting', 'read', 'failed']),
  error: z.string().nullable(),
  told: z.array(paperToldSchema),
  at: when,
});
export type PaperFile = z.infer<typeof paperFileSchema>;
export const readPaperFile = defineRoute({
  method: 'POST',
  path: '/api/runs/{id}/paper/files',
  right: 'editor',
  of: 'run',
  about: 'Receives a scan of printed sheets, PDF or picture, to be read.',
  params: byId,
  upload: { most: 60 * 2 ** 20 },
  answer: newId,
});
export const listPaperFiles = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/paper/files',
  right: 'viewer',
  of: 'run',
  about: 'The scans of a run’s printed sheets, and the result of each.',
  params: byId,
  answer: z.strictObject({ files: z.array(paperFileSchema) }),
});
export const listTrayPaper = defineRoute({
  method: 'GET',
  path: '/api/tray/paper',
  right: 'editor',
  about: 'Scans of printed sheets in the In-tray, and the result of each.',
  answer: z.strictObject({ folder: z.string().nullable(), files: z.array(paperFileSchema) }),
});
const sheetOnPaperSchema = z.strictObject({
  page: z.number(),
  width: z.number(),
  height: z.number(),
  piece: z.strictObject({ width: z.number(), height: z.number() }),
  places: z.array(
    z.strictObject({
      place: z.number(),
      x: z.number(),
      y: z.number(),
      record: z.number(),
      title: z.string(),
      /** Null if no picture shows the page. */
      is: z.enum(['read', 'not-read', 'misplaced']).nullable(),
    }),
  ),
  /** Top left of a piece that is not of the run, in mm. */
  others: z.array(z.strictObject({ x: z.number(), y: z.number() })),
});
export type SheetOnPaper = z.infer<typeof sheetOnPaperSchema>;
export const paperSheet = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/paper/sheet',
  right: 'viewer',
  of: 'run',
  about: 'One printed page of a run, and what its pictures show at every seat. Lengths in mm.',
  params: byId,
  query: z.object({ page: z.coerce.number().int().min(1) }),
  answer: sheetOnPaperSchema,
});
export const runReceipt = defineRoute({
  method: 'GET',
  path: '/api/runs/{id}/receipt',
  right: 'viewer',
  of: 'run',
  about: 'The receipt of a run as a file.',
  params: byId,
  query: z.object({ as: z.enum(['csv', 'json', 'pdf']).default('json') }),
  answer: { files: ['text/csv; charset=utf-8', 'application/json', 'application/pdf'] },
});
export const runFile = defineRoute({
  method: 'GET',
  path: '/api/files/{id}',
  right: 'viewer',
  of: 'file',
  about: 'A file that a run made.',
  params: byId,
  answer: { files: ['application/pdf', 'application/zip', 'text/csv; charset=utf-8'] },
});
