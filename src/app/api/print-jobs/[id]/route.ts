import { numberParam, route } from '@/server/platform';
import { stopPrint } from '@/server/delivery';

export const DELETE = route(async (asked) => {
  await stopPrint(asked.db, numberParam(asked));
  return { ok: true };
});
