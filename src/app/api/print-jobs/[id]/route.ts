import { numberParam, route } from '@/server/http';
import { stopPrint } from '@/server/printers';

export const DELETE = route(async (asked) => {
  await stopPrint(asked.db, numberParam(asked));
  return { ok: true };
});
