import { z } from 'zod';
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
