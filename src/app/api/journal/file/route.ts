import * as contract from '@/contract';
import { handle, journalCsv } from '@/server/access';
import { streamed } from '@/server/platform';

export const GET = handle(
  contract.journalFile,
  async ({ db, query }) =>
    new Response(streamed(journalCsv(db, query)), {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': 'attachment; filename="journal.csv"',
      },
    }),
);
