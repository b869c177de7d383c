import { stringify } from 'csv-stringify/sync';
import { z } from 'zod';
import { addressesOf, addressRows, giveAddresses, withdrawAddresses } from '@/server/code-addresses';
import { body, numberParam, route } from '@/server/http';

const query = z.object({
  stamp: z.string(),
  record: z.coerce.number().int().optional(),
  as: z.enum(['csv']).optional(),
  ending: z.enum(['png', 'svg']).default('png'),
});

export const GET = route(async (asked) => {
  const { stamp, record, as, ending } = query.parse(Object.fromEntries(asked.query));
  if (!as) return addressesOf(asked.db, numberParam(asked), stamp, record);
  const rows = await addressRows(asked.db, numberParam(asked), stamp, new URL(asked.request.url).origin, ending);
  return new Response(stringify(rows, { bom: true }), {
    headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': 'attachment; filename="code-addresses.csv"' },
  });
});

export const POST = route(async (asked) => ({
  added: await giveAddresses(asked.db, numberParam(asked), (await body(asked, z.object({ stamp: z.string() }))).stamp, asked.actor),
}));

export const DELETE = route(async (asked) => {
  const { stamp, records } = await body(asked, z.object({ stamp: z.string(), records: z.array(z.number().int()).optional() }));
  await withdrawAddresses(asked.db, numberParam(asked), stamp, records);
  return { ok: true };
});
