import * as contract from '@/contract';
import { stopMails } from '@/server/delivery';
import { handle } from '@/server/platform';

export const POST = handle(contract.stopMails, async ({ db, params }) => {
  await stopMails(db, params.id);
  return contract.done;
});
