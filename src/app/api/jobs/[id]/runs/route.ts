import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { listRuns, type NewRun, startRun } from '@/server/runs';

export const GET = route(async (asked) => ({ runs: await listRuns(asked.db, numberParam(asked)) }));

/** Starts a run; what is wanted is checked where it is started. */
export const POST = route(async (asked) => ({
  id: await startRun(
    asked.db,
    numberParam(asked),
    (await body(asked, z.looseObject({}), 'records')) as unknown as NewRun,
    asked.actor,
  ),
}));
