import { body, numberParam, route } from '@/server/platform';
import { quickPrint, quickSchema } from '@/server/runs';

/** Prints code and title of the ticked records. */
export const POST = route(async (asked) => ({
  id: await quickPrint(
    asked.db,
    numberParam(asked),
    await body(asked, quickSchema, 'records'),
    asked.actor,
  ),
}));
