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
 * Works out and checks what is not fresh; does nothing if all is. Progress is stored with the
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
