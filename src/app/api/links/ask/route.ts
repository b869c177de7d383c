import * as contract from '@/contract';
import { handle } from '@/server/access';
import { startAskingLinks, stopAskingLinks } from '@/server/links';

export const POST = handle(contract.askLinks, async ({ db }) => {
  await startAskingLinks(db);
  return contract.done;
});

export const DELETE = handle(contract.stopAskingLinks, async ({ db }) => {
  await stopAskingLinks(db);
  return contract.done;
});
