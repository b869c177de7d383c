import { numberParam, route } from '@/server/platform/http';
import { stopPrint } from '@/server/delivery/printers';

export const DELETE = route(async (asked) => {
  await stopPrint(asked.db, numberParam(asked));
  return { ok: true };
});
