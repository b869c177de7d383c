import * as z from 'zod';
import { jobDocumentSchema } from '../core/job/document';
import { originSchema } from '../core/job/sources';
import { columnSchema } from '../core/records/columns';
import {
  byId,
  directionSchema,
  markSchema,
  nameOf,
  newId,
  ok,
  problemKindSchema,
  valuesSchema,
  when,
} from './common';
import { rightSchema } from './access';
import { defineRoute } from './route';
import { filters } from './ledger';

export const runStateSchema = z.enum(['waiting', 'running', 'done', 'failed', 'cancelled']);
export type RunState = z.infer<typeof runStateSchema>;

const counted = z.number().int().min(0);

export const jobSummarySchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  list: z.string(),
  /** The ground of its pieces, by which jobs of one list differ. */
  on: z.string(),
  records: counted,
  ready: counted,
  look: counted,
  out: counted,
  updated: when,
  lastRun: z.strictObject({ name: z.string(), state: runStateSchema, failed: counted }).optional(),
});
export type JobSummary = z.infer<typeof jobSummarySchema>;

export const jobViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  version: z.number(),
  document: jobDocumentSchema,
  list: z.strictObject({
    id: z.number(),
    name: z.string(),
    source: z.string(),
    origin: originSchema.nullable(),
    columns: z.array(columnSchema),
    revision: z.number(),
    updated: when,
    /** Records whose worked columns are still to be calculated. */
    working: counted,
    /** Jobs that are made of it, this one among them. */
    jobs: counted,
    /** An update that waits for review. */
    reread: z.number().nullable(),
    revisions: counted,
  }),
  /** How many records have each problem. */
  problems: z.array(
    z.strictObject({ kind: problemKindSchema, records: counted, mendable: counted }),
  ),
  /** How each stamp fits over the whole list. */
  stampCounts: z.record(z.string(), z.record(markSchema, counted)),
  /**
   * By state; `new` are ready and not yet printed, `changed` were printed and say or show something
   * else since.
   */
  counts: z.record(z.enum(filters), counted),
  bands: z.strictObject({
    records: counted,
    stamps: counted,
    stampsOut: counted,
    /** Records whose codes on the piece all exist, also those that need a look. */
    drawn: counted,
    piece: counted,
    /** Ready for outputs that use only the codes, and of those the ones not yet printed. */
    codesReady: counted,
    codesNew: counted,
  }),
  /** Records still to be checked. */
  judging: counted,
  canUndo: z.boolean(),
  canRedo: z.boolean(),
  /** The right of the person who asks. */
  may: rightSchema,
});
export type JobView = z.infer<typeof jobViewSchema>;

/** A condition on a column of the list. */
export const conditionSchema = z.object({
  column: z.string().max(40),
  is: z.enum(['is', 'holds', 'blank', 'filled']),
  text: z.string().max(200).default(''),
});

/** Column id, and `down` for the greatest first. */
export const sortSchema = z.string().regex(/^[a-z]\d+:(up|down)$/);

/**
 * Which records of a job are shown, and in which order. In a query the conditions are JSON in one
 * text.
 */
export const viewSchema = z.object({
  filter: z.enum(filters).default('all'),
  q: z.string().max(200).default(''),
  problem: problemKindSchema.optional(),
  sort: sortSchema.optional(),
  where: z
    .union([z.string().max(2000), z.array(conditionSchema).max(6)])
    .optional()
    .transform((text, context) => {
      if (!text) return [];
      if (typeof text !== 'string') return text;
      try {
        return z.array(conditionSchema).max(6).parse(JSON.parse(text));
      } catch {
        context.addIssue('The filter could not be read. Reload the page.');
        return z.NEVER;
      }
    }),
});
export type RowsView = z.output<typeof viewSchema>;

export const rowsQuerySchema = viewSchema.extend({
  offset: z.coerce.number().int().min(0).default(0),
  limit: z.coerce.number().int().min(1).max(500).default(100),
  /** Columns whose secrets someone asked to see, such as `c3,w5`. */
  reveal: z.string().max(2000).optional(),
});

export const ledgerRowSchema = z.strictObject({
  id: z.number(),
  /** Place in the list, from 1. */
  number: z.number(),
  values: valuesSchema,
  marks: z.strictObject({
    records: markSchema,
    stamps: markSchema,
    piece: markSchema,
    overall: markSchema,
    run: z.enum(['ready', 'failed']).nullable(),
  }),
  /**
   * The words of a problem; for a note about a stamp, also its id and whether the record has no
   * code for it.
   */
  notes: z.array(
    z.strictObject({
      band: z.enum(['records', 'stamps', 'piece']),
      text: z.string(),
      column: z.string().optional(),
      stamp: z.string().optional(),
      out: z.boolean().optional(),
    }),
  ),
  page: z.number().nullable(),
  place: z.number().nullable(),
  /** Scans of its links; null if it has none. */
  scans: z.number().nullable(),
});
export type LedgerRow = z.infer<typeof ledgerRowSchema>;

/** A window of a job's records, and how many there are in all. */
export const ledgerWindowSchema = z.strictObject({
  total: counted,
  rows: z.array(ledgerRowSchema),
});
export type LedgerWindow = z.infer<typeof ledgerWindowSchema>;

export const jumpSchema = viewSchema.extend({
  to: z.enum(['longest', 'shortest', 'scripts', 'over', 'record']),
  record: z.coerce.number().int().optional(),
  /**
   * Index of the selected row: of several problems the next one below it is meant, and after the
   * last the first again.
   */
  after: z.coerce.number().int().optional(),
});

/**
 * Numbers of the records on the screen of the person who makes a change: in a long list they are
 * checked at once, before the answer, and the others after it.
 */
const seenSchema = z.array(z.number().int()).max(500).optional();

export const jobChangeSchema = z.object({
  version: z.number().int(),
  document: jobDocumentSchema.optional(),
  name: z.string().trim().min(1).max(120).optional(),
  seen: seenSchema,
});

export const newJobSchema = z.object({ name: nameOf('the job') });

export const listJobs = defineRoute({
  method: 'GET',
  path: '/api/jobs',
  right: 'signed-in',
  about: 'All jobs with the states of their records, the latest first.',
  answer: z.strictObject({ jobs: z.array(jobSummarySchema) }),
});
export const viewJob = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}',
  right: 'viewer',
  of: 'job',
  about: 'A job with its document, its list and the states of its records.',
  params: byId,
  answer: jobViewSchema,
});
export const changeJob = defineRoute({
  method: 'PATCH',
  path: '/api/jobs/{id}',
  right: 'editor',
  of: 'job',
  about:
    'Saves a new version of the job, or another name. Refused (409) if someone changed it since.',
  params: byId,
  body: jobChangeSchema,
  size: 'document',
  answer: jobViewSchema,
});
export const removeJob = defineRoute({
  method: 'DELETE',
  path: '/api/jobs/{id}',
  right: 'editor',
  of: 'job',
  about: 'Deletes a job with its runs.',
  params: byId,
  answer: ok,
});
export const jobRows = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/rows',
  right: 'viewer',
  of: 'job',
  about: 'A window of the records of a job.',
  params: byId,
  query: rowsQuerySchema,
  answer: ledgerWindowSchema,
});
export const jobRowIds = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/ids',
  right: 'viewer',
  of: 'job',
  about: 'The numbers of all records in a view, to tick them.',
  params: byId,
  query: viewSchema,
  answer: z.strictObject({ ids: z.array(z.number()).readonly() }),
});
export const jumpInJob = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/jump',
  right: 'viewer',
  of: 'job',
  about: 'Position of a special record within a view.',
  params: byId,
  query: jumpSchema,
  answer: z.strictObject({ index: z.number().nullable() }),
});
export const jobNews = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/news',
  news: true,
  right: 'viewer',
  of: 'job',
  about:
    'Server-sent events: a line whenever the job, its list or one of its runs was changed by anyone.',
  params: byId,
  answer: { files: ['text/event-stream'] },
});
export const stepJob = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/step',
  right: 'editor',
  of: 'job',
  about: 'Undoes or redoes the last change of the job or its list.',
  params: byId,
  body: directionSchema.extend({ seen: seenSchema }),
  answer: z.strictObject({ did: z.string().nullable(), job: jobViewSchema }),
});
export const addJob = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/jobs',
  right: 'editor',
  of: 'list',
  about: 'Creates another job for a list.',
  params: byId,
  body: newJobSchema,
  answer: z.strictObject({ id: z.number() }),
});
export const copyJob = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/copy',
  right: 'viewer',
  of: 'job',
  about: 'Copies a job with its records, stamps and piece, for the person who copies it.',
  params: byId,
  answer: newId,
});

const windowId = z.string().regex(/^[a-z0-9-]{8,40}$/);
export const sayHere = defineRoute({
  method: 'POST',
  path: '/api/jobs/{id}/here',
  right: 'viewer',
  of: 'job',
  asks: true,
  about: 'Tells others that you have a job open, and at which record.',
  params: byId,
  body: z.object({
    window: windowId,
    record: z.number().int().nullable(),
    leaves: z.boolean().optional(),
  }),
  answer: ok,
});
export const whoIsHere = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/here',
  right: 'viewer',
  of: 'job',
  about: 'Who else has a job open, and at which record.',
  params: byId,
  query: z.object({ window: windowId }),
  answer: z.strictObject({
    others: z.array(
      z.strictObject({
        name: z.string(),
        /** The same person in another of their windows. */
        oneself: z.boolean(),
        record: z.number().nullable(),
        /** Its place in the list, from 1. */
        number: z.number().nullable(),
      }),
    ),
  }),
});
export type Other = z.infer<(typeof whoIsHere)['answer']>['others'][number];
