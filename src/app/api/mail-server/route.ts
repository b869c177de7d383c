import * as contract from '@/contract';
import { changeMailServer, viewMailServer } from '@/server/delivery';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewMailServer, async ({ db }) => ({
  server: await viewMailServer(db),
}));

export const PUT = handle(contract.changeMailServer, async ({ db, body }) => {
  await changeMailServer(db, body);
  return contract.done;
});
