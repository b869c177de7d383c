import * as contract from '@/contract';
import { handle } from '@/server/access';
import { stateFor } from '@/server/checkpoints';

export const GET = handle(contract.checkpointState, async ({ db, params, query, device }) =>
  stateFor(db, params.id, device, query.after),
);
