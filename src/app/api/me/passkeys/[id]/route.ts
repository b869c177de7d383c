import * as contract from '@/contract';
import { handle, removePasskey } from '@/server/access';

export const DELETE = handle(contract.removePasskey, async ({ db, person, params }) => {
  await removePasskey(db, person, params.id);
  return contract.done;
});
