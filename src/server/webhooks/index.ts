/**
 * Programs that are told what happens: signed, tried again for a day, each delivery with its
 * answer.
 */
export { changeWebhook, deliverAgain, listDeliveries, listWebhooks, makeWebhook } from './webhooks';
export { webhookTasks } from './sending';
