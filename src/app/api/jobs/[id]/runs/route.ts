import { body, numberParam, route } from '@/server/http';
import { listRuns } from '@/server/run-views';
import { newRunSchema, startRun } from '@/server/runs';

export const GET = route(async (asked) => ({ runs: await listRuns(asked.db, numberParam(asked)) }));

export const POST = route(async (asked) => ({
  id: await startRun(asked.db, numberParam(asked), await body(asked, newRunSchema), asked.actor),
}));
