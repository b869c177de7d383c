import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listOrders, makeOrder, readyOrder } from '@/server/orders';

export const GET = handle(contract.listOrders, async ({ db }) => ({
  orders: await listOrders(db),
}));

export const POST = handle(contract.makeOrder, async ({ db, body, actor, tell }) => {
  const order = 'ready' in body ? await readyOrder(db, body.ready) : body;
  tell(order.name);
  return { id: await makeOrder(db, order, actor) };
});
