import * as z from 'zod';
import { taskCard } from '../platform';

/** Notifies orders of events. */
export const tellOrdersCard = taskCard('orders.tell', z.looseObject({}), {
  priority: 1,
  short: true,
});
/** Continues what was started; as many at a time as there are lanes. */
export const fireOrdersCard = taskCard('orders.fire', z.object({ lane: z.number().int() }), {
  priority: -1,
});
/** How many workers go on with orders at a time. */
export const lanesOfOrders = 2;
