import { numberParam, route } from '@/server/platform/http';
import { cancelRun } from '@/server/runs/runs';

export const POST = route(async (asked) => {
  await cancelRun(asked.db, numberParam(asked));
  return { ok: true };
});
