import * as contract from '@/contract';
import { handle } from '@/server/access';
import { roundBook, roundPdf } from '@/server/checkpoints';

export const GET = handle(contract.roundFile, async ({ db, params, query }) => {
  const pdf = query.as === 'pdf';
  return new Response(Buffer.from(await (pdf ? roundPdf : roundBook)(db, params.id)), {
    headers: {
      'content-type': pdf
        ? 'application/pdf'
        : 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      'content-disposition': `attachment; filename="round.${query.as}"`,
    },
  });
});
