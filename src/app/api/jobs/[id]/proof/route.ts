import * as contract from '@/contract';
import { handle } from '@/server/platform';
import { proofOf } from '@/server/runs';

export const POST = handle(contract.proveRun, async ({ db, params, body }) =>
  proofOf(db, params.id, body.run, body.sheet),
);
