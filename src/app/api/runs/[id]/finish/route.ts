import * as contract from '@/contract';
import { handle } from '@/server/access';
import { finishStopped } from '@/server/runs';

export const POST = handle(contract.finishRun, async ({ db, params }) => {
  await finishStopped(db, params.id);
  return contract.done;
});
