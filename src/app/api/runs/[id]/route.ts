import { numberParam, route } from '@/server/platform';
import { removeRun, viewRun } from '@/server/runs';

export const GET = route(async (asked) => viewRun(asked.db, numberParam(asked)));

/** Throws a run away with its files. */
export const DELETE = route(async (asked) => {
  await removeRun(asked.db, numberParam(asked));
  return { ok: true };
});
