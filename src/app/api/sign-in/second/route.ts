import * as contract from '@/contract';
import { handle, signInBySecond } from '@/server/access';

export const POST = handle(contract.signInSecond, async (asked) => {
  await signInBySecond(asked, asked.body);
  return contract.done;
});
