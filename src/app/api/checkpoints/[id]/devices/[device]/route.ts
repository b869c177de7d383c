import * as contract from '@/contract';
import { handle } from '@/server/access';
import { shutDevice } from '@/server/checkpoints';

export const DELETE = handle(contract.shutDevice, async ({ db, params }) => {
  await shutDevice(db, params.id, params.device);
  return contract.done;
});
