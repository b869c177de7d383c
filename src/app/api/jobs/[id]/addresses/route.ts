import { stringify } from 'csv-stringify/sync';
import { z } from 'zod';
import { imageFormats } from '@/core/run/outputs';
import {
  addressesOf,
  addressRows,
  giveAddresses,
  wantedSchema,
  withdrawAddresses,
} from '@/server/links';
import { body, numberParam, route } from '@/server/platform';

const query = wantedSchema.extend({
  stamp: z.string(),
  record: z.coerce.number().int().optional(),
  as: z.enum(['csv']).optional(),
  ending: z.enum(imageFormats).default('png'),
});

export const GET = route(async (asked) => {
  const { stamp, record, as, ending, ...wanted } = query.parse(Object.fromEntries(asked.query));
  if (!as) return addressesOf(asked.db, numberParam(asked), stamp, record);
  const rows = await addressRows(
    asked.db,
    numberParam(asked),
    stamp,
    new URL(asked.request.url).origin,
    ending,
    wanted,
  );
  return new Response(stringify(rows, { bom: true }), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="code-addresses.csv"',
    },
  });
});

const whichSchema = z.object({ stamp: z.string(), records: z.array(z.number().int()).optional() });

export const POST = route(async (asked) => {
  const { stamp, records } = await body(asked, whichSchema, 'records');
  return { added: await giveAddresses(asked.db, numberParam(asked), stamp, asked.actor, records) };
});

export const DELETE = route(async (asked) => {
  const { stamp, records } = await body(asked, whichSchema, 'records');
  await withdrawAddresses(asked.db, numberParam(asked), stamp, records);
  return { ok: true };
});
