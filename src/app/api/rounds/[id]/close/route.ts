import * as contract from '@/contract';
import { handle } from '@/server/access';
import { closeRound } from '@/server/checkpoints';

export const POST = handle(contract.closeRound, async ({ db, params, actor }) => {
  await closeRound(db, params.id, actor);
  return contract.done;
});
