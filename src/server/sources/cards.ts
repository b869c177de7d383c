import * as z from 'zod';
import { taskCard } from '../platform';

export const readIntakeCard = taskCard('intake.read', z.object({ intake: z.number().int() }), {
  priority: -20,
  short: true,
  apart: true,
  minutes: 5,
});
export const takeIntakeCard = taskCard('intake.take', z.object({ intake: z.number().int() }), {
  priority: -20,
  short: true,
  apart: true,
  minutes: 15,
});

/** Reads a scan of printed sheets, in a process of its own, since it opens files from outside. */
export const readPaperCard = taskCard('paper.read', z.object({ file: z.number().int() }), {
  priority: -10,
  apart: true,
  minutes: 15,
});
