import * as contract from '@/contract';
import { handle } from '@/server/access';
import { removeRound, viewRound } from '@/server/checkpoints';

export const GET = handle(contract.viewRound, async ({ db, params }) => viewRound(db, params.id));

export const DELETE = handle(contract.removeRound, async ({ db, params }) => {
  await removeRound(db, params.id);
  return contract.done;
});
