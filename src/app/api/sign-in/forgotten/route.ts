import * as contract from '@/contract';
import { countForgotten, forgottenBy, handle } from '@/server/access';
import { mailWelcome } from '@/server/delivery';
import { log } from '@/server/platform';

export const POST = handle(contract.forgotten, async (asked) => {
  const { email } = asked.body;
  await countForgotten(asked, email);
  const send = async () => {
    const found = await forgottenBy(asked, email);
    if (found) await mailWelcome(asked.db, { kind: 'reset', ...found });
  };
  // not waited for, so that the time it takes tells nobody whether there is anyone of that address
  void send().catch((error: unknown) => log.error({ err: error }, 'a new password was not sent'));
  return contract.done;
});
