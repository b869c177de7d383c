import * as contract from '@/contract';
import { becomeStandIn, handle } from '@/server/access';

export const POST = handle(contract.becomeStandIn, async (asked) => {
  await becomeStandIn(asked, asked.body.person);
  return contract.done;
});
