import * as contract from '@/contract';
import { handle, signInByPasskey } from '@/server/access';

export const POST = handle(contract.signInByPasskey, async (asked) => {
  await signInByPasskey(asked, asked.body.response);
  return contract.done;
});
