import { z } from 'zod';
import { numberParam, route } from '@/server/platform';
import { rereadRows } from '@/server/sources';

const query = z.object({
  from: z.coerce.number().int().min(0).default(0),
  change: z.enum(['added', 'changed', 'gone']).optional(),
});

export const GET = route(async (asked) => {
  const { from, change } = query.parse(Object.fromEntries(asked.query));
  return { rows: await rereadRows(asked.db, numberParam(asked), from, change) };
});
