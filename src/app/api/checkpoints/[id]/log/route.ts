import * as contract from '@/contract';
import { includes } from '@/core/access/rights';
import { handle } from '@/server/access';
import { logBook, logCsv } from '@/server/checkpoints';
import { streamed } from '@/server/platform';

export const GET = handle(contract.checkpointLog, async ({ db, params, query, person }) => {
  const all = includes(person.right, 'editor');
  const name = `attachment; filename="log.${query.as}"`;
  if (query.as === 'csv')
    return new Response(streamed(logCsv(db, params.id, all)), {
      headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': name },
    });
  return new Response(Buffer.from(await logBook(db, params.id, all)), {
    headers: {
      'content-type': 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      'content-disposition': name,
    },
  });
});
