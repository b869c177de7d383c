import * as contract from '@/contract';
import { handle } from '@/server/access';
import { settleOnRound } from '@/server/checkpoints';

export const POST = handle(contract.settleOnRound, async ({ db, params, body, actor }) =>
  settleOnRound(db, params.id, body, actor),
);
