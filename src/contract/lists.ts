import * as z from 'zod';
import { sourceKinds } from '../core/job/sources';
import { keptPictureSchema } from '../core/drawing/picture';
import { purposeIds } from '../core/payload/purposes';
import { starters } from '../core/piece/starters';
import { columnRoles, columnSchema } from '../core/records/columns';
import { workedSchema } from '../core/records/worked';
import {
  byId,
  changedRowSchema,
  directionSchema,
  nameOf,
  newId,
  number,
  ok,
  problemKindSchema,
  revisionCountsSchema,
  when,
} from './common';
import { defineRoute } from './route';

export const listSummarySchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  source: z.string(),
  kind: z.enum(sourceKinds),
  records: z.number(),
  /** Records with a problem. */
  problems: z.number(),
  revisions: z.number(),
  stamps: z.array(z.string()),
  updated: when,
  jobs: z.array(z.strictObject({ id: z.number(), name: z.string() })),
  /** Names of checkpoints that take its codes, and of standing orders about it. */
  checkpoints: z.array(z.string()),
  orders: z.array(z.string()),
});
export type ListSummary = z.infer<typeof listSummarySchema>;

/**
 * The values of a piece that stands alone: those of its one record, by the headings of the purpose.
 */
const signSchema = z.object({
  design: z.enum(starters.map((s) => s.id) as [string, ...string[]]),
  values: z.record(z.string().max(100), z.string().max(5000)),
  copies: z.number().int().min(1).max(1000),
});

export const typedListSchema = z.object({
  name: nameOf('it'),
  purpose: z.enum(purposeIds),
  /** A poster: one record, made as often as needed. */
  sign: signSchema.optional(),
});
export const renameSchema = z.object({ name: nameOf('it') });
export const sheetSchema = z.object({ purpose: z.enum(purposeIds), as: z.enum(['xlsx', 'csv']) });

export const workedColumnSchema = z.object({
  /** Left out for a new column. */
  id: z.string().max(40).optional(),
  name: nameOf('the column'),
  worked: workedSchema,
  /** Its calculation when the change began. */
  was: z.object({ name: z.string(), worked: workedSchema }).optional(),
});

export const columnsChangeSchema = z.discriminatedUnion('does', [
  z.object({
    does: z.literal('roles'),
    columns: z.array(z.object({ id: z.string(), role: z.enum(columnRoles) })).max(1000),
  }),
  z.object({
    does: z.literal('rename'),
    id: z.string(),
    name: nameOf('the column'),
    was: z.string().optional(),
  }),
  z.object({ does: z.literal('hide'), id: z.string(), hidden: z.boolean() }),
  z.object({ does: z.literal('secret'), id: z.string(), secret: z.boolean() }),
  z.object({ does: z.literal('move'), id: z.string(), to: z.number().int().min(0).max(1000) }),
  z.object({ does: z.literal('add'), name: nameOf('the column') }),
]);
export type ColumnsChange = z.infer<typeof columnsChangeSchema>;

export const previewSchema = z.object({
  worked: workedSchema,
  id: z.string().max(40),
  record: z.number().int(),
});

export const cellEditSchema = z.object({
  record: z.number().int(),
  column: z.string().max(40),
  value: z.string().max(20_000, 'A cell may have up to 20,000 characters. Shorten it.'),
  /**
   * The value of the cell when the change began; a cell with another value by now is not
   * overwritten.
   */
  from: z.string().optional(),
});
export type CellEdit = z.infer<typeof cellEditSchema>;

/**
 * A cell that was changed elsewhere since the change of it began here; sent with the refusal (409).
 */
export interface CellClash {
  record: number;
  title: string;
  column: string;
  columnName: string;
  here: string;
  yours: string;
}

/** A record with one problem: what its cell contains, and what it would contain when fixed. */
export const problemRowSchema = z.strictObject({
  record: z.number(),
  number: z.number(),
  title: z.string(),
  column: z.string(),
  columnName: z.string(),
  text: z.string(),
  value: z.string(),
  mended: z.string().optional(),
});
export type ProblemRow = z.infer<typeof problemRowSchema>;

export const revisionViewSchema = z.strictObject({
  number: z.number(),
  kind: z.string(),
  note: z.string(),
  undone: z.boolean(),
  counts: revisionCountsSchema.nullable(),
  by: z.string(),
  at: when,
  canUndo: z.boolean(),
});
export type RevisionView = z.infer<typeof revisionViewSchema>;

export const fetchedPicturesSchema = z.strictObject({
  kept: z.number(),
  failed: z.array(z.strictObject({ address: z.string(), reason: z.string() })),
  /** The last address that was tried, if others are left; continue after it. */
  next: z.string().nullable(),
  left: z.number(),
});
export type FetchedPictures = z.infer<typeof fetchedPicturesSchema>;

export const listLists = defineRoute({
  method: 'GET',
  path: '/api/lists',
  right: 'signed-in',
  about: 'All lists with their sources, their states and their jobs.',
  answer: z.strictObject({ lists: z.array(listSummarySchema) }),
});
export const startTypedList = defineRoute({
  method: 'POST',
  path: '/api/lists',
  right: 'editor',
  about: 'Creates an empty list, with its job.',
  body: typedListSchema,
  size: 'records',
  answer: z.strictObject({ job: z.number() }),
});
export const renameList = defineRoute({
  method: 'PATCH',
  path: '/api/lists/{id}',
  right: 'editor',
  of: 'list',
  about: 'Renames a list.',
  params: byId,
  body: renameSchema,
  answer: ok,
});
export const removeList = defineRoute({
  method: 'DELETE',
  path: '/api/lists/{id}',
  right: 'editor',
  of: 'list',
  about: 'Deletes a list with its jobs.',
  params: byId,
  answer: ok,
});
export const editCells = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/cells',
  right: 'editor',
  of: 'list',
  about:
    'Changes cells, all in one revision. Refused (409, with both values) if one was changed since.',
  params: byId,
  body: z.object({ edits: z.array(cellEditSchema).min(1).max(5000) }),
  size: 'records',
  answer: ok,
});
export const addRecords = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/records',
  right: 'editor',
  of: 'list',
  about: 'Adds records at the end of a list.',
  params: byId,
  body: z.object({
    records: z
      .array(z.record(z.string(), z.string().max(20_000)))
      .min(1)
      .max(5000),
  }),
  size: 'records',
  answer: z.strictObject({ ids: z.array(z.number()) }),
});
export const removeRecords = defineRoute({
  method: 'DELETE',
  path: '/api/lists/{id}/records',
  right: 'editor',
  of: 'list',
  about: 'Deletes records of a list.',
  params: byId,
  body: z.object({ ids: z.array(z.number().int()).min(1).max(200_000) }),
  size: 'records',
  answer: z.strictObject({ gone: z.number() }),
});
export const keepWorkedColumn = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/columns',
  right: 'editor',
  of: 'list',
  about: 'Adds a worked column, or changes the one with the given id.',
  params: byId,
  body: workedColumnSchema,
  answer: z.strictObject({ id: z.string() }),
});
export const changeColumn = defineRoute({
  method: 'PATCH',
  path: '/api/lists/{id}/columns',
  right: 'editor',
  of: 'list',
  about: 'Changes the roles of columns, or renames, hides, moves or adds them.',
  params: byId,
  body: columnsChangeSchema,
  answer: ok,
});
export const removeWorkedColumn = defineRoute({
  method: 'DELETE',
  path: '/api/lists/{id}/columns',
  right: 'editor',
  of: 'list',
  about: 'Deletes a worked column.',
  params: byId,
  query: z.object({ column: z.string().max(40).default('') }),
  answer: ok,
});
export const previewWorked = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/preview',
  right: 'editor',
  of: 'list',
  asks: true,
  about: 'The result of a worked column for the selected record and the five most different ones.',
  params: byId,
  body: previewSchema,
  answer: z.strictObject({
    rows: z.array(z.strictObject({ number: z.number(), result: z.string() })),
  }),
});
export const listProblems = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/problems',
  right: 'viewer',
  of: 'list',
  about: 'The first records with a problem.',
  params: byId,
  query: z.object({ kind: problemKindSchema }),
  answer: z.strictObject({ rows: z.array(problemRowSchema) }),
});
export const mendProblems = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/problems',
  right: 'editor',
  of: 'list',
  about: 'Fixes all records with a problem, or the chosen ones.',
  params: byId,
  body: z.object({
    kind: problemKindSchema,
    records: z.array(z.number().int()).max(20_000).optional(),
  }),
  size: 'records',
  answer: z.strictObject({ mended: z.number() }),
});
export const listRevisions = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/revisions',
  right: 'viewer',
  of: 'list',
  about: 'The revisions of a list, the latest first.',
  params: byId,
  answer: z.strictObject({ revisions: z.array(revisionViewSchema) }),
});
const revision = z.object({ id: number, number });
export const viewRevision = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/revisions/{number}',
  right: 'viewer',
  of: 'list',
  about: 'What a revision did, record by record and cell by cell.',
  params: revision,
  query: z.object({ from: z.coerce.number().int().min(0).catch(0).default(0) }),
  answer: z.strictObject({ total: z.number(), rows: z.array(changedRowSchema) }),
});
export const turnRevision = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/revisions/{number}',
  right: 'editor',
  of: 'list',
  about: 'Undoes or redoes a revision.',
  params: revision,
  body: directionSchema,
  answer: z.strictObject({ did: z.string() }),
});
export const stepList = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/step',
  right: 'editor',
  of: 'list',
  about: 'Undoes or redoes the last change of a list.',
  params: byId,
  body: directionSchema,
  answer: z.strictObject({ did: z.string().nullable() }),
});
export const readListAgain = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/read',
  right: 'editor',
  of: 'list',
  about: 'Updates a list from its own source.',
  params: byId,
  answer: newId,
});
export const listPictureNames = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/pictures',
  right: 'viewer',
  of: 'list',
  about: "The names of a list's pictures.",
  params: byId,
  answer: z.strictObject({ names: z.array(z.string()) }),
});
export const addListPicture = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/pictures',
  right: 'editor',
  of: 'list',
  about: 'Adds a picture for the records that name it.',
  params: byId,
  query: z.object({ last: z.enum(['yes']).optional() }),
  upload: { most: 20 * 2 ** 20 },
  answer: ok,
});
export const viewListPicture = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/pictures/one',
  right: 'viewer',
  of: 'list',
  about: "One of a list's pictures.",
  params: byId,
  query: z.object({ name: z.string().max(4000) }),
  answer: z.strictObject({ picture: keptPictureSchema.nullable() }),
});
export const fetchListPictures = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/pictures/fetch',
  right: 'editor',
  of: 'list',
  about:
    'Downloads pictures whose web addresses are in a column, as many as one request allows. Repeat it for the rest.',
  params: byId,
  body: z.object({ column: z.string(), after: z.string().max(4000).optional() }),
  answer: fetchedPicturesSchema,
});
export const listLookups = defineRoute({
  method: 'GET',
  path: '/api/lookups',
  right: 'viewer',
  about: 'The lists and their columns, for a worked column that looks up a value in another list.',
  answer: z.strictObject({
    lists: z.array(
      z.strictObject({ id: z.number(), name: z.string(), columns: z.array(columnSchema) }),
    ),
  }),
});
export const blankSheet = defineRoute({
  method: 'GET',
  path: '/api/sheets',
  right: 'viewer',
  about: 'A blank spreadsheet with the headings for a purpose.',
  query: sheetSchema,
  answer: {
    files: [
      'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      'text/csv; charset=utf-8',
    ],
  },
});
