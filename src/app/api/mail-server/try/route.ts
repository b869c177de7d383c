import * as contract from '@/contract';
import { handle } from '@/server/access';
import { tryMailServer } from '@/server/delivery';

export const POST = handle(contract.tryMailServer, async ({ db, body }) => {
  await tryMailServer(db, body.to);
  return contract.done;
});
