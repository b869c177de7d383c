import * as z from 'zod';
import { webhookEvents } from '../core/access/webhooks';
import { byId, nameOf, number, ok, when } from './common';
import { defineRoute } from './route';

export const webhookViewSchema = z.strictObject({
  id: z.number(),
  name: z.string(),
  address: z.string(),
  events: z.array(z.enum(webhookEvents)),
  list: z.strictObject({ id: z.number(), name: z.string() }).nullable(),
  open: z.boolean(),
  by: z.string(),
  /** Why it was turned off, in words. */
  trouble: z.string().nullable(),
  waiting: z.number(),
});
export type WebhookView = z.infer<typeof webhookViewSchema>;

export const deliveryViewSchema = z.strictObject({
  id: z.string(),
  kind: z.string(),
  state: z.enum(['waiting', 'delivered', 'failed']),
  tries: z.number(),
  status: z.number().nullable(),
  answer: z.string().nullable(),
  at: when,
  due: when,
  /** The body of the call, as JSON. */
  body: z.string(),
});
export type DeliveryView = z.infer<typeof deliveryViewSchema>;

export const listWebhooks = defineRoute({
  method: 'GET',
  path: '/api/webhooks',
  right: 'administrator',
  about: 'The webhooks.',
  answer: z.strictObject({ webhooks: z.array(webhookViewSchema) }),
});
export const makeWebhook = defineRoute({
  method: 'POST',
  path: '/api/webhooks',
  right: 'administrator',
  about: 'Creates a webhook. The secret that signs its calls is shown once.',
  body: z.object({
    name: nameOf('the program'),
    address: z.string().trim().max(2000),
    events: z.array(z.enum(webhookEvents)).min(1, 'Choose what it is called for.'),
    list: number.nullable(),
  }),
  answer: z.strictObject({ secret: z.string(), view: webhookViewSchema }),
});
export const changeWebhook = defineRoute({
  method: 'PATCH',
  path: '/api/webhooks/{id}',
  right: 'administrator',
  about: 'Pauses or resumes a webhook.',
  params: byId,
  body: z.object({ open: z.boolean() }),
  answer: webhookViewSchema,
});
export const removeWebhook = defineRoute({
  method: 'DELETE',
  path: '/api/webhooks/{id}',
  right: 'administrator',
  about: 'Deletes a webhook with its deliveries.',
  params: byId,
  answer: ok,
});
export const listDeliveries = defineRoute({
  method: 'GET',
  path: '/api/webhooks/{id}/deliveries',
  right: 'administrator',
  about: 'Recent deliveries of a webhook, and the answers.',
  params: byId,
  answer: z.strictObject({ deliveries: z.array(deliveryViewSchema) }),
});
export const deliverAgain = defineRoute({
  method: 'POST',
  path: '/api/webhooks/{id}/deliveries',
  right: 'administrator',
  about: 'Sends a delivery again.',
  params: byId,
  body: z.object({ delivery: z.uuid() }),
  answer: ok,
});
