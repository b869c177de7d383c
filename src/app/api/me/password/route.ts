import * as contract from '@/contract';
import { changePassword, handle } from '@/server/access';

export const POST = handle(contract.changePassword, async (asked) => {
  await changePassword(asked, asked.person, asked.body);
  return contract.done;
});
