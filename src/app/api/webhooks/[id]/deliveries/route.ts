import * as contract from '@/contract';
import { handle } from '@/server/access';
import { deliverAgain, listDeliveries } from '@/server/webhooks';

export const GET = handle(contract.listDeliveries, async ({ db, params }) => ({
  deliveries: await listDeliveries(db, params.id),
}));

export const POST = handle(contract.deliverAgain, async ({ db, params, body }) => {
  await deliverAgain(db, params.id, body.delivery);
  return contract.done;
});
