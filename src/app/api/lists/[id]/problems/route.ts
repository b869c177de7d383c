import { z } from 'zod';
import { problemKinds } from '@/core/records/problems';
import { body, numberParam, route } from '@/server/platform';
import { mend, problemRows } from '@/server/lists';

const kind = z.enum(problemKinds);

export const GET = route(async (asked) => ({
  rows: await problemRows(asked.db, numberParam(asked), kind.parse(asked.query.get('kind'))),
}));

/** Mends all records with a problem, or the chosen ones. */
export const POST = route(async (asked) => {
  const wanted = await body(
    asked,
    z.object({ kind, records: z.array(z.number().int()).max(20_000).optional() }),
    'records',
  );
  return {
    mended: await mend(asked.db, numberParam(asked), wanted.kind, wanted.records, asked.actor),
  };
});
