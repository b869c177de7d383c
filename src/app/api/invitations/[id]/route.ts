import * as contract from '@/contract';
import { handle, takeBackInvitation } from '@/server/access';

export const DELETE = handle(contract.takeBackInvitation, async ({ db, params }) => {
  await takeBackInvitation(db, params.id);
  return contract.done;
});
