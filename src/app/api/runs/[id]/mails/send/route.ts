import * as contract from '@/contract';
import { sendMailsAgain } from '@/server/delivery';
import { handle } from '@/server/platform';

export const POST = handle(contract.sendMailsAgain, async ({ db, params, body }) => {
  await sendMailsAgain(db, params.id, body.which);
  return contract.done;
});
