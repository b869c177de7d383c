import * as contract from '@/contract';
import { handle } from '@/server/access';
import { undoOrder } from '@/server/orders';

export const POST = handle(contract.undoOrder, ({ db, params, body, actor }) =>
  undoOrder(db, params.id, body.version, actor),
);
