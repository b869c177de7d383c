import * as contract from '@/contract';
import { handle } from '@/server/access';
import { stopMails } from '@/server/delivery';

export const POST = handle(contract.stopMails, async ({ db, params }) => {
  await stopMails(db, params.id);
  return contract.done;
});
