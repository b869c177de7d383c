import * as z from 'zod';
import { ownPageSchema } from '../core/links/own';
import { pageSetSchema } from '../core/links/pages';
import { byId, when } from './common';
import { defineRoute } from './route';

export const pageSetViewSchema = z.strictObject({
  /** Null if the records of the list have no pages. */
  pages: z
    .strictObject({
      document: pageSetSchema,
      version: z.number(),
      by: z.string(),
      at: when,
      /** Name of the column that holds their addresses. */
      column: z.string(),
      count: z.number(),
      /** Pages whose record is gone; and those among them whose address a run printed. */
      gone: z.number(),
      gonePrinted: z.number(),
      /** Page of the record that is asked for, or of the first. */
      sample: z.string().nullable(),
    })
    .nullable(),
});
export type PageSetView = z.infer<typeof pageSetViewSchema>;

export const viewPages = defineRoute({
  method: 'GET',
  path: '/api/lists/{id}/pages',
  right: 'viewer',
  of: 'list',
  about: 'What the pages of the records of a list show.',
  params: byId,
  query: z.object({ record: z.coerce.number().int().min(1).optional() }),
  answer: pageSetViewSchema,
});
export const startPages = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/pages',
  right: 'editor',
  of: 'list',
  about: 'Creates a page for every record of a list.',
  params: byId,
  answer: pageSetViewSchema,
});
export const changePages = defineRoute({
  method: 'PUT',
  path: '/api/lists/{id}/pages',
  right: 'editor',
  of: 'list',
  about: 'Changes what the pages of a list show, and who sees it.',
  params: byId,
  body: z.object({ version: z.number().int(), document: pageSetSchema }),
  answer: pageSetViewSchema,
});
export const ownPageViewSchema = z.strictObject({
  /** Null if the job has none. */
  page: z
    .strictObject({
      address: z.string(),
      document: ownPageSchema,
      version: z.number(),
      /** How often something was fetched. */
      fetched: z.number(),
    })
    .nullable(),
});
export type OwnPageView = z.infer<typeof ownPageViewSchema>;
export const viewOwnPage = defineRoute({
  method: 'GET',
  path: '/api/jobs/{id}/own',
  right: 'viewer',
  of: 'job',
  about: 'The page where people get their own code.',
  params: byId,
  answer: ownPageViewSchema,
});
export const changeOwnPage = defineRoute({
  method: 'PUT',
  path: '/api/jobs/{id}/own',
  right: 'editor',
  of: 'job',
  about:
    'Changes what people enter on the page where they get their own code; version 0 creates it.',
  params: byId,
  body: z.object({ version: z.number().int().min(0), document: ownPageSchema }),
  answer: ownPageViewSchema,
});
export const ownPage = defineRoute({
  method: 'GET',
  path: '/f/{token}',
  right: 'anyone',
  about: 'The page where people get their own code.',
  params: z.object({ token: z.string().max(60) }),
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});
export const fetchOwn = defineRoute({
  method: 'POST',
  path: '/f/{token}',
  right: 'anyone',
  about: 'Returns a person’s code for what only they know.',
  params: z.object({ token: z.string().max(60) }),
  upload: { most: 16_384 },
  answer: { files: ['image/png', 'application/pdf', 'text/html; charset=utf-8'] },
  strangers: true,
});
export const recordPage = defineRoute({
  method: 'GET',
  path: '/r/{id}',
  right: 'anyone',
  about: 'The page of a record.',
  params: z.object({ id: z.string().max(60) }),
  answer: { files: ['text/html; charset=utf-8'] },
  strangers: true,
});
