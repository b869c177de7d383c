import { numberParam, route } from '@/server/platform/http';
import { readAgain } from '@/server/sources/reread';

/** Reads a list's own source again. */
export const POST = route(async (asked) => ({ id: await readAgain(asked.db, numberParam(asked), asked.actor) }));
