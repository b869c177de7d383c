import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fireByHand } from '@/server/orders';

export const POST = handle(contract.fireByHand, async ({ db, params, body, actor }) => ({
  started: await fireByHand(db, params.id, body.records, actor),
}));
