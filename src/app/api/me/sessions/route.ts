import * as contract from '@/contract';
import { endSessions, handle } from '@/server/access';

export const DELETE = handle(contract.endOtherSessions, async ({ db, person }) => {
  await endSessions(db, person, 'others');
  return contract.done;
});
