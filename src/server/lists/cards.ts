import * as z from 'zod';
import { taskCard } from '../platform';

export const workOutCard = taskCard('list.work', z.object({ list: z.number().int() }), {
  priority: -10,
  short: true,
});
