import * as contract from '@/contract';
import { addPasskey, handle } from '@/server/access';

export const POST = handle(contract.addPasskey, async (asked) => {
  await addPasskey(asked, asked.body);
  return contract.done;
});
