import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeByOneself, viewByOneself } from '@/server/checkpoints';

export const GET = handle(contract.viewByOneself, async ({ db, params }) =>
  viewByOneself(db, params.id),
);

export const PUT = handle(contract.changeByOneself, async ({ db, params, body, actor }) =>
  changeByOneself(db, params.id, body, actor),
);
