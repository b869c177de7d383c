import * as contract from '@/contract';
import { handle } from '@/server/access';
import { findRecords } from '@/server/checkpoints';

export const GET = handle(contract.findAtCheckpoint, async ({ db, params, query }) => ({
  found: await findRecords(db, params.id, query.search),
}));
