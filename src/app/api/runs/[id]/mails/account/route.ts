import * as contract from '@/contract';
import { mailAccount } from '@/server/delivery';
import { handle } from '@/server/platform';

export const GET = handle(
  contract.mailAccount,
  async ({ db, params: { id } }) =>
    new Response(Uint8Array.from(await mailAccount(db, id)), {
      headers: {
        'content-type': 'text/csv; charset=utf-8',
        'content-disposition': `attachment; filename="mails-${id}.csv"`,
      },
    }),
);
