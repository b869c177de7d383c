import * as z from 'zod';
import { taskCard } from '../platform';

/** Sends emails of a run that are due, for some seconds; then it is queued again. */
export const sendMailsCard = taskCard('mail.send', z.object({ run: z.number().int() }), {
  priority: -2,
  minutes: 10,
});

/** The next step of a print job: it is handed over, or looked after. */
export const printCard = taskCard('print.step', z.object({ job: z.number().int() }), {
  priority: -2,
  minutes: 10,
});
