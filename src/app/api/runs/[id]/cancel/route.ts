import * as contract from '@/contract';
import { handle } from '@/server/access';
import { cancelRun } from '@/server/runs';

export const POST = handle(contract.cancelRun, async ({ db, params }) => {
  await cancelRun(db, params.id);
  return contract.done;
});
