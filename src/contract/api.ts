import * as z from 'zod';
import { byId, nameOf, number, ok, when } from './common';
import { defineRoute } from './route';

/** The API for programs, under `/api/v1`: with a key, and columns by name. */
const listId = z.object({ id: number });
const recordId = z.object({ id: number, record: z.coerce.number().int().min(1) });
const named = z
  .record(
    z.string().max(200),
    z.string().max(20_000, 'A value may have up to 20,000 characters. Shorten it.'),
  )
  .meta({ description: 'Values by the names of their columns.' });

export const apiListSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  records: z.number(),
  columns: z.array(
    z.strictObject({
      name: z.string(),
      role: z.string(),
      worked: z.boolean().meta({ description: 'Worked out here; cannot be written.' }),
      secret: z.boolean(),
    }),
  ),
  jobs: z.array(z.strictObject({ id: z.number(), name: z.string() })),
});
export const apiRecordSchema = z.strictObject({
  id: z.number(),
  list: z.number(),
  number: z.number().meta({ description: 'Position in the list, from 1.' }),
  values: named,
  page: z
    .string()
    .nullable()
    .meta({ description: 'Web address of its page, if its list has pages.' }),
  picture: z
    .string()
    .nullable()
    .meta({ description: 'Web address of the picture of its first code.' }),
  codes: z.array(
    z.strictObject({
      stamp: z.string(),
      name: z.string(),
      symbology: z.string(),
      payload: z
        .string()
        .nullable()
        .meta({ description: 'What the code says; null if it has none or is secret.' }),
    }),
  ),
});
export type ApiRecord = z.infer<typeof apiRecordSchema>;

const cursor = z.object({
  cursor: z.string().max(100).optional(),
  limit: z.coerce.number().int().min(1).max(1000).default(100),
});

export const apiLists = defineRoute({
  method: 'GET',
  path: '/api/v1/lists',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  about: 'The lists that the API key is for.',
  answer: z.strictObject({ lists: z.array(apiListSchema) }),
});
export const apiRecords = defineRoute({
  method: 'GET',
  path: '/api/v1/lists/{id}/records',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  of: 'list',
  about: 'Records of a list in their order, one page of them.',
  params: listId,
  query: cursor,
  answer: z.strictObject({ records: z.array(apiRecordSchema), next: z.string().nullable() }),
});
export const apiCreateRecord = defineRoute({
  method: 'POST',
  path: '/api/v1/lists/{id}/records',
  right: 'anyone',
  strangers: true,
  key: 'writes',
  repeats: true,
  of: 'list',
  about: 'Creates a record, and returns its page, the picture of its code and what the code says.',
  params: listId,
  body: z.object({ values: named }),
  answer: apiRecordSchema,
});
export const apiCreateRecords = defineRoute({
  method: 'POST',
  path: '/api/v1/lists/{id}/records/bulk',
  right: 'anyone',
  strangers: true,
  key: 'writes',
  repeats: true,
  of: 'list',
  about: 'Creates up to 10,000 records: one JSON object of values per line (application/x-ndjson).',
  params: listId,
  upload: { most: 32 * 2 ** 20 },
  answer: z.strictObject({ ids: z.array(z.number()) }),
});
export const apiRecord = defineRoute({
  method: 'GET',
  path: '/api/v1/lists/{id}/records/{record}',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  of: 'list',
  about: 'One record; its ETag changes with it.',
  params: recordId,
  answer: apiRecordSchema,
});
export const apiChangeRecord = defineRoute({
  method: 'PATCH',
  path: '/api/v1/lists/{id}/records/{record}',
  right: 'anyone',
  strangers: true,
  key: 'writes',
  of: 'list',
  about:
    'Changes values of a record; with If-Match only if its ETag is still the same (412 otherwise).',
  params: recordId,
  body: z.object({ values: named }),
  answer: apiRecordSchema,
});
export const apiRemoveRecord = defineRoute({
  method: 'DELETE',
  path: '/api/v1/lists/{id}/records/{record}',
  right: 'anyone',
  strangers: true,
  key: 'writes',
  of: 'list',
  about: 'Deletes a record. Its page says that it was deleted.',
  params: recordId,
  answer: ok,
});
export const apiCode = defineRoute({
  method: 'GET',
  path: '/api/v1/lists/{id}/records/{record}/code',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  of: 'list',
  about: 'The code of a record as a picture, read back.',
  params: recordId,
  query: z.object({
    stamp: z.string().max(40).optional(),
    format: z.enum(['svg', 'png']).default('svg'),
  }),
  answer: { files: ['image/svg+xml', 'image/png'] },
});
export const apiRunSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  state: z.string(),
  pieces: z.number(),
  made: z.number(),
  read: z.number(),
  failed: z.number(),
  error: z.string().nullable(),
  finished: when.nullable(),
  files: z.array(z.strictObject({ id: z.number(), name: z.string(), size: z.number() })),
});
const apiJobSchema = z.strictObject({ id: z.number(), name: z.string(), list: z.number() });
export const apiJobs = defineRoute({
  method: 'GET',
  path: '/api/v1/jobs',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  about: 'The jobs of the lists that the API key is for.',
  answer: z.strictObject({ jobs: z.array(apiJobSchema) }),
});
export const apiJob = defineRoute({
  method: 'GET',
  path: '/api/v1/jobs/{id}',
  right: 'anyone',
  strangers: true,
  key: 'reads',
  of: 'job',
  about: 'One job, with its runs, the newest first.',
  params: byId,
  answer: apiJobSchema.extend({
    runs: z.array(
      z.strictObject({
        id: z.number(),
        name: z.string(),
        state: z.string(),
        finished: when.nullable(),
      }),
    ),
  }),
});
export const apiStartRun = defineRoute({
  method: 'POST',
  path: '/api/v1/jobs/{id}/runs',
  right: 'anyone',
  strangers: true,
  key: 'runs',
  repeats: true,
  of: 'job',
  about: 'Starts a run of a job: of all records that are ready, or of some.',
  params: byId,
  body: z.object({
    name: nameOf('the run'),
    records: z.array(z.number().int()).max(10_000).optional(),
  }),
  answer: apiRunSchema,
});
export const apiRun = defineRoute({
  method: 'GET',
  path: '/api/v1/runs/{id}',
  right: 'anyone',
  strangers: true,
  key: 'runs',
  of: 'run',
  about: 'The state of a run, and its files.',
  params: byId,
  answer: apiRunSchema,
});
export const apiRunFile = defineRoute({
  method: 'GET',
  path: '/api/v1/runs/{id}/files/{file}',
  right: 'anyone',
  strangers: true,
  key: 'runs',
  of: 'run',
  about: 'A file of a run. One that contains secrets is only for API keys that may see secrets.',
  params: z.object({ id: number, file: number }),
  answer: {
    files: [
      'application/pdf',
      'application/zip',
      'text/csv; charset=utf-8',
      'application/octet-stream',
    ],
  },
});
/** A link as programs see it. */
export const apiLinkSchema = z.strictObject({
  code: z.string(),
  address: z.string(),
  title: z.string(),
  state: z.enum(['open', 'paused', 'withdrawn']),
  leads: z.string().nullable().meta({ description: 'Where it leads now; null if nowhere.' }),
  scans: z.number(),
});
export const apiMakeLink = defineRoute({
  method: 'POST',
  path: '/api/v1/links',
  right: 'anyone',
  strangers: true,
  key: 'links',
  repeats: true,
  about: 'Creates a single link; for API keys that are for all lists.',
  body: z.object({
    title: nameOf('the link', 200),
    to: z.string().trim().min(1, 'Enter where it leads.').max(2000),
  }),
  answer: apiLinkSchema,
});
export const apiLink = defineRoute({
  method: 'GET',
  path: '/api/v1/links/{code}',
  right: 'anyone',
  strangers: true,
  key: 'links',
  about: 'One link, with where it leads and how often it was scanned.',
  params: z.object({ code: z.string().max(40) }),
  answer: apiLinkSchema,
});
export const apiChangeLink = defineRoute({
  method: 'PATCH',
  path: '/api/v1/links/{code}',
  right: 'anyone',
  strangers: true,
  key: 'links',
  about: 'Changes where a link leads, pauses it, resumes it or withdraws it permanently.',
  params: z.object({ code: z.string().max(40) }),
  body: z.object({
    to: z.string().trim().min(1).max(2000).optional(),
    state: z.enum(['open', 'paused', 'withdrawn']).optional(),
  }),
  answer: apiLinkSchema,
});
export const apiLinks = defineRoute({
  method: 'GET',
  path: '/api/v1/lists/{id}/links',
  right: 'anyone',
  strangers: true,
  key: 'links',
  of: 'list',
  about: 'Links of the records of a list, with where they lead and how often they were scanned.',
  params: listId,
  query: cursor,
  answer: z.strictObject({
    links: z.array(apiLinkSchema.omit({ state: true })),
    next: z.string().nullable(),
  }),
});
export const apiDocument = defineRoute({
  method: 'GET',
  path: '/api/v1/openapi.json',
  right: 'anyone',
  strangers: true,
  about: 'This API described in OpenAPI 3.1.',
  answer: { files: ['application/json'] },
});
