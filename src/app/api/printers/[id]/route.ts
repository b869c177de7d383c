import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { keepPrinter, printerSchema, sendToPrinter } from '@/server/delivery';

export const PUT = route(async (asked) => {
  await keepPrinter(asked.db, numberParam(asked), await body(asked, printerSchema));
  return { ok: true };
});

/** Sends a finished run to the printer. */
export const POST = route(async (asked) => {
  await sendToPrinter(
    asked.db,
    numberParam(asked),
    (await body(asked, z.object({ run: z.number().int() }))).run,
  );
  return { ok: true };
});
