import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listWebhooks, makeWebhook } from '@/server/webhooks';

export const GET = handle(contract.listWebhooks, async ({ db }) => ({
  webhooks: await listWebhooks(db),
}));

export const POST = handle(contract.makeWebhook, async ({ db, body, actor, tell }) => {
  tell(`${body.name}, ${new URL(body.address).host}`);
  return makeWebhook(db, body, actor);
});
