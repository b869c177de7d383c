import * as contract from '@/contract';
import { handle, takeWelcome, viewWelcome } from '@/server/access';

export const GET = handle(contract.viewWelcome, async ({ db, params }) =>
  viewWelcome(db, params.token),
);

export const POST = handle(contract.takeWelcome, async (asked) => {
  await takeWelcome(asked, asked.params.token, asked.body);
  return contract.done;
});
