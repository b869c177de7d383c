import * as contract from '@/contract';
import { handle, signOut } from '@/server/access';

export const POST = handle(contract.signOut, async (asked) => {
  await signOut(asked);
  return contract.done;
});
