import * as contract from '@/contract';
import { handle } from '@/server/access';
import { packFor } from '@/server/checkpoints';

export const GET = handle(contract.checkpointPack, async ({ db, params }) =>
  packFor(db, params.id),
);
