import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fireAgain } from '@/server/orders';

export const POST = handle(contract.fireAgain, async ({ db, params, body }) => {
  await fireAgain(db, params.id, body.from);
  return contract.done;
});
