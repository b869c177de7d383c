import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiStartRun } from '@/server/api';

export const POST = handle(contract.apiStartRun, async ({ db, caller, params, body }) =>
  apiStartRun(db, caller, params.id, body),
);
