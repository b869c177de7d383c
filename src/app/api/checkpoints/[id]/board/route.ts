import * as contract from '@/contract';
import { handle } from '@/server/access';
import { viewBoard } from '@/server/checkpoints';

export const GET = handle(contract.viewBoard, async ({ db, params, query }) =>
  viewBoard(db, params.id, query),
);
