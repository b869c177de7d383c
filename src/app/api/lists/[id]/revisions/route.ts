import { numberParam, route } from '@/server/http';
import { listRevisions } from '@/server/revisions';

export const GET = route(async (asked) => ({ revisions: await listRevisions(asked.db, numberParam(asked)) }));
