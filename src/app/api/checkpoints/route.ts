import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listCheckpoints, makeCheckpoint } from '@/server/checkpoints';

export const GET = handle(contract.listCheckpoints, async ({ db }) => ({
  checkpoints: await listCheckpoints(db),
}));

export const POST = handle(contract.makeCheckpoint, async ({ db, body, actor }) => ({
  id: await makeCheckpoint(db, body, actor),
}));
