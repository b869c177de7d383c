import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addressRows } from '@/server/links';
import { baseAddress, csvLines } from '@/server/platform';

export const GET = handle(contract.addressesFile, async ({ db, params, query }) => {
  const { stamp, ending, ...wanted } = query;
  const rows = await addressRows(db, params.id, stamp, await baseAddress(db), ending, wanted);
  return new Response(csvLines(rows, { bom: true }), {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="code-addresses.csv"',
    },
  });
});
