import * as contract from '@/contract';
import { endSessions, handle } from '@/server/access';

export const DELETE = handle(contract.endSession, async ({ db, person, params }) => {
  await endSessions(db, person, params);
  return contract.done;
});
