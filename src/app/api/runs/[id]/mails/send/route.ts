import * as contract from '@/contract';
import { handle } from '@/server/access';
import { sendMailsAgain } from '@/server/delivery';

export const POST = handle(contract.sendMailsAgain, async ({ db, params, body }) => {
  await sendMailsAgain(db, params.id, body.which);
  return contract.done;
});
