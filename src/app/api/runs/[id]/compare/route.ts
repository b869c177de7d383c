import * as contract from '@/contract';
import { handle } from '@/server/access';
import { compareRuns } from '@/server/runs';

export const GET = handle(contract.compareRuns, async ({ db, params, query }) =>
  compareRuns(db, query.with, params.id),
);
