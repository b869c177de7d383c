import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { stepJob, viewJob } from '@/server/jobs';

/** Undoes what was done last to the job or its list, or does it again. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  const { direction } = await body(asked, z.object({ direction: z.enum(['undo', 'redo']) }));
  const did = await stepJob(asked.db, id, direction, asked.actor);
  return { did: did ?? null, job: await viewJob(asked.db, id) };
});
