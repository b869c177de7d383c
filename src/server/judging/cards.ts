import * as z from 'zod';
import { taskCard } from '../platform';

/** What judging puts into the queue. */
export const judgeListCard = taskCard('list.judge', z.object({ list: z.number().int() }), {
  priority: -10,
  short: true,
});
export const judgePieceCard = taskCard('job.judge', z.object({ job: z.number().int() }), {
  priority: -10,
  short: true,
});
/**
 * Work out and judge again what is not fresh; nothing where it is. What is done stands with the
 * lists.
 */
export const renewListCard = taskCard('list.renew', z.object({ list: z.number().int() }), {
  priority: -10,
  short: true,
});
export const renewJobCard = taskCard('job.renew', z.object({ job: z.number().int() }), {
  priority: -10,
  short: true,
});
