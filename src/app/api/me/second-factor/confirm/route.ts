import * as contract from '@/contract';
import { confirmSecondFactor, handle } from '@/server/access';

export const POST = handle(contract.confirmSecondFactor, async (asked) => {
  await confirmSecondFactor(asked, asked.person, asked.body.code);
  return contract.done;
});
