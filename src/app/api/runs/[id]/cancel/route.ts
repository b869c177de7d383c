import { numberParam, route } from '@/server/platform';
import { cancelRun } from '@/server/runs';

export const POST = route(async (asked) => {
  await cancelRun(asked.db, numberParam(asked));
  return { ok: true };
});
