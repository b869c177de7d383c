import * as contract from '@/contract';
import { handle } from '@/server/access';
import { callOrder } from '@/server/orders';

export const POST = handle(contract.callOrder, ({ db, params, request }) =>
  callOrder(db, params.token, request),
);
