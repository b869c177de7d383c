import * as z from 'zod';
import { taskCard } from '../platform';

export const makeChunkCard = taskCard(
  'run.chunk',
  z.object({ run: z.number().int(), chunk: z.number().int() }),
  { minutes: 20 },
);
export const assembleRunCard = taskCard('run.assemble', z.object({ run: z.number().int() }), {
  priority: -1,
  minutes: 60,
});
