import * as contract from '@/contract';
import { tryMailServer } from '@/server/delivery';
import { handle } from '@/server/platform';

export const POST = handle(contract.tryMailServer, async ({ db, body }) => {
  await tryMailServer(db, body.to);
  return contract.done;
});
