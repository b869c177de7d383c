import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fireFailedAgain } from '@/server/orders';

export const POST = handle(contract.fireFailedAgain, async ({ db, params, body }) => ({
  again: await fireFailedAgain(db, params.id, body.from),
}));
