import * as contract from '@/contract';
import { handle } from '@/server/access';
import { mailAccount } from '@/server/delivery';

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
