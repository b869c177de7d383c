import * as z from 'zod';
import { taskCard } from '../platform';

export const askDoorsCard = taskCard(
  'door.ask',
  z.object({ job: z.number().int(), stamp: z.string() }),
);
