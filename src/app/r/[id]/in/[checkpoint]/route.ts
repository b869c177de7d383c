import * as contract from '@/contract';
import { handle } from '@/server/access';
import { checkInByOneself, checkInPage } from '@/server/checkpoints';

export const GET = handle(contract.checkInPage, async ({ db, params }) =>
  checkInPage(db, params.id, params.checkpoint),
);

export const POST = handle(contract.checkInByOneself, async ({ db, params, request }) =>
  checkInByOneself(db, params.id, params.checkpoint, request),
);
