import * as contract from '@/contract';
import { forgetKept } from '@/server/jobs';
import { handle } from '@/server/platform';

export const DELETE = handle(contract.forgetKept, async ({ db, params }) => {
  await forgetKept(db, params.id);
  return contract.done;
});
