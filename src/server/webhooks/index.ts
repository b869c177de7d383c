/**
 * Webhooks: signed calls to other programs, tried again for a day, each delivery with its answer.
 */
export { changeWebhook, deliverAgain, listDeliveries, listWebhooks, makeWebhook } from './webhooks';
export { webhookTasks } from './sending';
