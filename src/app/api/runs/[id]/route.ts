import { numberParam, route } from '@/server/platform/http';
import { viewRun } from '@/server/runs/run-views';
import { removeRun } from '@/server/runs/runs';

export const GET = route(async (asked) => viewRun(asked.db, numberParam(asked)));

/** Throws a run away with its files. */
export const DELETE = route(async (asked) => {
  await removeRun(asked.db, numberParam(asked));
  return { ok: true };
});
