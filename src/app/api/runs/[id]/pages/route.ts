import { z } from 'zod';
import { numberParam, route } from '@/server/platform';
import { receiptPages, receiptPart } from '@/server/runs';

/** How each page of a run read back; with `page` or `failed`, the lines of that part. */
export const GET = route(async (asked) => {
  const { page, failed } = z
    .object({ page: z.coerce.number().int().optional(), failed: z.string().optional() })
    .parse(Object.fromEntries(asked.query));
  const id = numberParam(asked);
  if (failed !== undefined) return { lines: await receiptPart(asked.db, id, 'failed') };
  return page === undefined
    ? { pages: await receiptPages(asked.db, id) }
    : { lines: await receiptPart(asked.db, id, { page }) };
});
