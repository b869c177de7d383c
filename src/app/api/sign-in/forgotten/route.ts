import * as contract from '@/contract';
import { forgottenBy, handle } from '@/server/access';
import { mailWelcome } from '@/server/delivery';

export const POST = handle(contract.forgotten, async (asked) => {
  const found = await forgottenBy(asked, asked.body.email);
  // not waited for, so that the time it takes tells nobody whether there is anyone of that address
  if (found) void mailWelcome(asked.db, { kind: 'reset', ...found }).catch(() => undefined);
  return contract.done;
});
