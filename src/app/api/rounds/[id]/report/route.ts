import * as contract from '@/contract';
import { handle } from '@/server/access';
import { reportOfRound } from '@/server/checkpoints';

export const GET = handle(contract.roundReport, async ({ db, params, query }) =>
  reportOfRound(db, params.id, query.before),
);
