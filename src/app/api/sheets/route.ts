import * as contract from '@/contract';
import { handle } from '@/server/access';
import { blankSheet } from '@/server/jobs';

const types = {
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  csv: 'text/csv; charset=utf-8',
};

export const GET = handle(contract.blankSheet, async ({ query }) => {
  const bytes = await blankSheet(query);
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': types[query.as],
      'content-disposition': `attachment; filename="records-${query.purpose}.${query.as}"`,
    },
  });
});
