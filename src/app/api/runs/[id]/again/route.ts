import { numberParam, route } from '@/server/platform/http';
import { runAgain } from '@/server/runs/runs';

export const POST = route(async (asked) => ({ id: await runAgain(asked.db, numberParam(asked), asked.actor) }));
