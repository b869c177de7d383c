import * as contract from '@/contract';
import { handle } from '@/server/access';
import { removeRun, viewRun } from '@/server/runs';

export const GET = handle(contract.viewRun, async ({ db, params }) => viewRun(db, params.id));

export const DELETE = handle(contract.removeRun, async ({ db, params }) => {
  await removeRun(db, params.id);
  return contract.done;
});
