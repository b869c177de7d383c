import { numberParam, route } from '@/server/platform';
import { readAgain } from '@/server/sources';

/** Reads a list's own source again. */
export const POST = route(async (asked) => ({
  id: await readAgain(asked.db, numberParam(asked), asked.actor),
}));
