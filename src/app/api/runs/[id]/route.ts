import { numberParam, route } from '@/server/http';
import { viewRun } from '@/server/run-views';

export const GET = route(async (asked) => viewRun(asked.db, numberParam(asked)));
