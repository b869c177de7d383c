import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listRounds, startRound } from '@/server/checkpoints';

export const GET = handle(contract.listRounds, async ({ db }) => ({
  rounds: await listRounds(db),
}));

export const POST = handle(contract.startRound, async ({ db, body, actor }) => ({
  id: await startRound(db, body, actor),
}));
