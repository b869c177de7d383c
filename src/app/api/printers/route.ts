import { body, route } from '@/server/platform';
import { keepPrinter, listPrinters, printerSchema } from '@/server/delivery';

export const GET = route(async ({ db }) => ({ printers: await listPrinters(db) }));

export const POST = route(async (asked) => {
  await keepPrinter(asked.db, undefined, await body(asked, printerSchema));
  return { ok: true };
});
