import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listRuns, startRun } from '@/server/runs';

export const GET = handle(contract.listRuns, async ({ db, params }) => ({
  runs: await listRuns(db, params.id),
}));

export const POST = handle(contract.startRun, async ({ db, params, body, actor }) => ({
  id: await startRun(db, params.id, body, actor),
}));
