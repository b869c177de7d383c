import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addDevice } from '@/server/checkpoints';

export const POST = handle(contract.addDevice, async ({ db, params, body, actor, tell }) => {
  tell(body.name);
  return addDevice(db, params.id, body, actor);
});
