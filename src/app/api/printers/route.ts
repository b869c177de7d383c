import { body, route } from '@/server/platform/http';
import { keepPrinter, listPrinters, printerSchema } from '@/server/delivery/printers';

export const GET = route(async ({ db }) => ({ printers: await listPrinters(db) }));

export const POST = route(async (asked) => {
  await keepPrinter(asked.db, undefined, await body(asked, printerSchema));
  return { ok: true };
});
