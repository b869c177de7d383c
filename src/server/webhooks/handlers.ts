import type { Handlers } from '../access';
import {
  listDeliveries,
  deliverAgain,
  changeWebhook,
  removeWebhook,
  listWebhooks,
  makeWebhook,
} from './webhooks';
import * as contract from '../../contract';

/** The handlers of this module, by route. */
export const webhooksHandlers = {
  listDeliveries: async ({ db, params }) => ({
    deliveries: await listDeliveries(db, params.id),
  }),

  deliverAgain: async ({ db, params, body }) => {
    await deliverAgain(db, params.id, body.delivery);
    return contract.done;
  },

  changeWebhook: async ({ db, params, body }) => changeWebhook(db, params.id, body.open),

  removeWebhook: async ({ db, params }) => {
    await removeWebhook(db, params.id);
    return contract.done;
  },

  listWebhooks: async ({ db }) => ({
    webhooks: await listWebhooks(db),
  }),

  makeWebhook: async ({ db, body, actor, tell }) => {
    tell(`${body.name}, ${new URL(body.address).host}`);
    return makeWebhook(db, body, actor);
  },
} satisfies Partial<Handlers>;
