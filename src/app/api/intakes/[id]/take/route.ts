import * as contract from '@/contract';
import { handle } from '@/server/access';
import { beginTaking } from '@/server/sources';

export const POST = handle(contract.takeIntake, async ({ db, params, body }) => {
  await beginTaking(db, params.id, body);
  return contract.done;
});
