import * as contract from '@/contract';
import { handle } from '@/server/access';
import { forgetKept } from '@/server/jobs';

export const DELETE = handle(contract.forgetKept, async ({ db, params }) => {
  await forgetKept(db, params.id);
  return contract.done;
});
