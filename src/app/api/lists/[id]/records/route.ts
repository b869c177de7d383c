import { z } from 'zod';
import { addRecords, removeRecords } from '@/server/lists';
import { body, numberParam, route } from '@/server/platform';

const added = z.object({
  records: z
    .array(z.record(z.string(), z.string().max(20_000)))
    .min(1)
    .max(5000),
});
const removed = z.object({ ids: z.array(z.number().int()).min(1).max(200_000) });

export const POST = route(async (asked) => ({
  ids: await addRecords(
    asked.db,
    numberParam(asked),
    (await body(asked, added, 'records')).records,
    asked.actor,
  ),
}));

export const DELETE = route(async (asked) => ({
  gone: await removeRecords(
    asked.db,
    numberParam(asked),
    (await body(asked, removed, 'records')).ids,
    asked.actor,
  ),
}));
