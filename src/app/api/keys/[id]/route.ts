import * as contract from '@/contract';
import { endKey, handle } from '@/server/access';

export const DELETE = handle(contract.endKey, async ({ db, params, tell }) => {
  tell(await endKey(db, params.id));
  return contract.done;
});
