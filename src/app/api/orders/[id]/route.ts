import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeOrder, removeOrder, viewOrder } from '@/server/orders';

export const GET = handle(contract.viewOrder, ({ db, params }) => viewOrder(db, params.id));

export const PUT = handle(contract.changeOrder, ({ db, params, body, actor }) =>
  changeOrder(db, params.id, body, actor),
);

export const DELETE = handle(contract.removeOrder, async ({ db, params }) => {
  await removeOrder(db, params.id);
  return contract.done;
});
