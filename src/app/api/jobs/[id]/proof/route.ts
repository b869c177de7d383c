import * as contract from '@/contract';
import { handle } from '@/server/access';
import { proofOf } from '@/server/runs';

export const POST = handle(contract.proveRun, async ({ db, params, body, mayHere }) =>
  proofOf(db, params.id, body.run, body.sheet, await mayHere()),
);
