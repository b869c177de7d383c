import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { type NewRun, proofOf } from '@/server/runs';

/** What a run would make; what is wanted is checked where it is worked out. */
export const POST = route(async (asked) => {
  const { sheet, run } = await body(
    asked,
    z.object({ sheet: z.number().int().min(0).max(100_000), run: z.looseObject({}) }),
    'records',
  );
  return proofOf(asked.db, numberParam(asked), run as unknown as NewRun, sheet);
});
