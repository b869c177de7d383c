import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeWebhook, removeWebhook } from '@/server/webhooks';

export const PATCH = handle(contract.changeWebhook, async ({ db, params, body }) =>
  changeWebhook(db, params.id, body.open),
);

export const DELETE = handle(contract.removeWebhook, async ({ db, params }) => {
  await removeWebhook(db, params.id);
  return contract.done;
});
