import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeMailServer, viewMailServer } from '@/server/delivery';

export const GET = handle(contract.viewMailServer, async ({ db }) => ({
  server: await viewMailServer(db),
}));

export const PUT = handle(contract.changeMailServer, async ({ db, body }) => {
  await changeMailServer(db, body);
  return contract.done;
});
