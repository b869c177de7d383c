import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeOurAddresses, viewOurAddresses } from '@/server/links';

export const GET = handle(contract.viewOurAddresses, async ({ db }) => viewOurAddresses(db));

export const PUT = handle(contract.changeOurAddresses, async ({ db, body, tell }) => {
  const now = await changeOurAddresses(db, body);
  tell(`${now.base}, links on ${now.links}`);
  return now;
});
