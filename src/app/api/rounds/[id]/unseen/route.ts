import * as contract from '@/contract';
import { handle } from '@/server/access';
import { unseenAt } from '@/server/checkpoints';

export const GET = handle(contract.unseenOnRound, async ({ db, params, query }) =>
  unseenAt(db, params.id, query.place),
);
