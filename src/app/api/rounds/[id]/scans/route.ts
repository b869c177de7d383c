import * as contract from '@/contract';
import { handle } from '@/server/access';
import { scanOnRound } from '@/server/checkpoints';

export const POST = handle(contract.scanOnRound, async ({ db, params, body, actor }) =>
  scanOnRound(db, params.id, body, actor),
);
