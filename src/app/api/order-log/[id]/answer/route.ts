import * as contract from '@/contract';
import { handle } from '@/server/access';
import { answerFiring } from '@/server/orders';

export const POST = handle(contract.answerFiring, async ({ db, params, body, actor }) => {
  await answerFiring(db, params.id, body.yes, actor);
  return contract.done;
});
