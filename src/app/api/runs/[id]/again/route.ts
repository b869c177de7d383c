import { numberParam, route } from '@/server/platform';
import { runAgain } from '@/server/runs';

export const POST = route(async (asked) => ({
  id: await runAgain(asked.db, numberParam(asked), asked.actor),
}));
