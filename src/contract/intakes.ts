import * as z from 'zod';
import { fetchedSchema, originSchema } from '../core/job/sources';
import { columnRoles } from '../core/records/columns';
import {
  encodingIds,
  separatorIds,
  sheetChoicesSchema,
  textReadingSchema,
} from '../core/records/reading';
import { byId, changedRowSchema, nameOf, newId, ok, revisionCountsSchema } from './common';
import { defineRoute } from './route';

/** Candidates that may be the same under another heading, or keys in another form. */
export const rereadQuestionSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('heading'),
    column: z.string(),
    name: z.string(),
    heading: z.string(),
    records: z.number(),
  }),
  z.strictObject({
    kind: z.literal('keys'),
    here: z.string(),
    there: z.string(),
    records: z.number(),
  }),
]);
export type RereadQuestion = z.infer<typeof rereadQuestionSchema>;

/** What a re-read came to. */
export const rereadToldSchema = revisionCountsSchema.extend({
  unchanged: z.number(),
  clashes: z.number(),
  notes: z.array(z.string()),
  /** Headings that are new in the source, and columns that it has no more. */
  newColumns: z.array(z.string()),
  missingColumns: z.array(z.string()),
  /** Questions that only a person can answer before it is applied. */
  asks: z.array(rereadQuestionSchema).optional(),
  /** Why it cannot be applied before that is answered. */
  blocked: z.string().optional(),
});
export type RereadTold = z.infer<typeof rereadToldSchema>;

/**
 * What a person declared to be the same: columns under new headings, by heading, and keys whatever
 * their form.
 */
export const sameSchema = z.object({
  headings: z.record(z.string(), z.string()).default({}),
  keys: z.boolean().default(false),
});
export type SaidSame = z.infer<typeof sameSchema>;

export const sheetPreviewSchema = z.strictObject({
  name: z.string(),
  hidden: z.boolean(),
  /** Filled rows. */
  rows: z.number(),
  columns: z.number(),
  /** The first rows as they were written. */
  head: z.array(z.array(z.string())),
  /** The numbers that those rows have in the file. */
  numbers: z.array(z.number()),
  /** Row that looks like the headings, from 0; -1 when the first row is a record. */
  headerRow: z.number(),
  roles: z.array(z.enum(columnRoles)),
  notes: z.array(z.string()),
  /**
   * How much of it is hidden in the file: rows, columns with the names of the first of them, and
   * their positions.
   */
  hiddenRows: z.number(),
  hiddenColumns: z.number(),
  hiddenNames: z.array(z.string()),
  hiddenAt: z.array(z.number()),
  hiddenRowsAt: z.array(z.number()),
  /**
   * Columns whose cells link to addresses that they do not show: their positions, the name for a
   * column of the addresses, how many cells, and the addresses of the first rows.
   */
  links: z.array(
    z.strictObject({
      at: z.number(),
      name: z.string(),
      cells: z.number(),
      head: z.array(z.string()),
    }),
  ),
  /** Rows are hidden by a filter. */
  filtered: z.boolean(),
  /** Cells that are blank because one above them is merged downwards. */
  merged: z.number(),
  /** The last row, if it looks like a sum and not like a record. */
  sum: z.string().optional(),
});
export type SheetPreview = z.infer<typeof sheetPreviewSchema>;

/** The contents of a file, before it is brought in. */
export const bookPreviewSchema = z.strictObject({
  /** How the file was read, in words: "CSV, semicolons, Windows-1252". */
  kind: z.string(),
  sheets: z.array(sheetPreviewSchema),
  /** The sheet that looks most like a table of records. */
  suggested: z.number(),
  /** Of a text: how it was read, and whether another reading is as likely. */
  text: z
    .strictObject({
      encoding: z.enum(encodingIds),
      separator: z.enum(separatorIds),
      doubtful: z.boolean(),
    })
    .optional(),
});
export type BookPreview = z.infer<typeof bookPreviewSchema>;

export const takeSchema = z.object({
  sheet: z.number().int().min(0),
  ...sheetChoicesSchema.shape,
  roles: z.array(z.enum(columnRoles)).max(1000),
  name: nameOf('the job'),
  /** Changes of a file in the In-tray are applied automatically if they lose nothing. */
  follow: z.boolean().optional(),
});
export type TakeOptions = z.infer<typeof takeSchema>;

/**
 * How an update is applied: what happens to cells that were changed here and there, and to records
 * that were deleted there.
 */
export const rereadTakeSchema = z.object({
  clashes: z.enum(['here', 'there']),
  gone: z.enum(['out', 'stay']),
});
export type RereadTake = z.infer<typeof rereadTakeSchema>;

export const intakeSchema = z.strictObject({
  id: z.number(),
  file_name: z.string(),
  state: z.enum(['waiting', 'read', 'taking', 'taken', 'failed']),
  error: z.string().nullable(),
  preview: bookPreviewSchema.nullable(),
  job_id: z.number().nullable(),
  list_id: z.number().nullable(),
  origin: originSchema.nullable(),
  /** Of an update: its result, and what was declared to be the same. */
  told: rereadToldSchema.nullable(),
  same: sameSchema.nullable(),
  /** What it waits for, in words. */
  waits: z.string().optional(),
});
export type Intake = z.infer<typeof intakeSchema>;

export const startIntake = defineRoute({
  method: 'POST',
  path: '/api/intakes',
  right: 'editor',
  about: 'Receives the bytes of a file, or what to download; a worker process reads it.',
  query: z.object({ list: z.coerce.number().int().optional().catch(undefined) }),
  body: fetchedSchema,
  size: 'folder',
  upload: { most: 50 * 2 ** 20 },
  answer: newId,
});
export const viewIntake = defineRoute({
  method: 'GET',
  path: '/api/intakes/{id}',
  right: 'editor',
  of: 'intake',
  about: 'What was read, before any of it is applied.',
  params: byId,
  answer: intakeSchema,
});
export const dropIntake = defineRoute({
  method: 'DELETE',
  path: '/api/intakes/{id}',
  right: 'editor',
  of: 'intake',
  about: 'Discards what was read.',
  params: byId,
  answer: ok,
});
export const readIntakeAs = defineRoute({
  method: 'POST',
  path: '/api/intakes/{id}/reading',
  right: 'editor',
  of: 'intake',
  asks: true,
  about: 'Reads a text again in another encoding or with another separator.',
  params: byId,
  body: textReadingSchema,
  answer: ok,
});
export const intakeRows = defineRoute({
  method: 'GET',
  path: '/api/intakes/{id}/rows',
  right: 'editor',
  of: 'intake',
  about: 'What an update would change, record by record and cell by cell.',
  params: byId,
  query: z.object({
    from: z.coerce.number().int().min(0).default(0),
    change: z.enum(['added', 'changed', 'gone']).optional(),
  }),
  answer: z.strictObject({ rows: z.array(changedRowSchema) }),
});
export const sayIntakeSame = defineRoute({
  method: 'POST',
  path: '/api/intakes/{id}/same',
  right: 'editor',
  of: 'intake',
  asks: true,
  about: 'Sets which columns or keys are the same under another name or in another form.',
  params: byId,
  body: sameSchema,
  answer: ok,
});
export const takeIntake = defineRoute({
  method: 'POST',
  path: '/api/intakes/{id}/take',
  right: 'editor',
  of: 'intake',
  about: 'Applies what was read: as a new list and its job, or to the list it was compared with.',
  params: byId,
  body: takeSchema.or(rereadTakeSchema),
  answer: ok,
});
