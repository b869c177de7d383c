import { z } from 'zod';
import { pageSetSchema } from '../core/links/pages';
import { byId, when } from './common';
import { defineRoute } from './route';

export const pageSetViewSchema = z.strictObject({
  /** Null where the records of the list have no pages. */
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
  right: 'looks',
  of: 'list',
  about: 'What the pages of the records of a list show.',
  params: byId,
  query: z.object({ record: z.coerce.number().int().min(1).optional() }),
  answer: pageSetViewSchema,
});
export const startPages = defineRoute({
  method: 'POST',
  path: '/api/lists/{id}/pages',
  right: 'changes',
  of: 'list',
  about: 'Gives every record of a list a page of its own.',
  params: byId,
  answer: pageSetViewSchema,
});
export const changePages = defineRoute({
  method: 'PUT',
  path: '/api/lists/{id}/pages',
  right: 'changes',
  of: 'list',
  about: 'Says what the pages of the records of a list show, and to whom.',
  params: byId,
  body: z.object({ version: z.number().int(), document: pageSetSchema }),
  answer: pageSetViewSchema,
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
