import { z } from 'zod';
import { body, numberParam, route } from '@/server/platform';
import { stepBack } from '@/server/lists';

export const POST = route(async (asked) => {
  const { direction } = await body(asked, z.object({ direction: z.enum(['undo', 'redo']) }));
  return { did: (await stepBack(asked.db, numberParam(asked), direction, asked.actor)) ?? null };
});
