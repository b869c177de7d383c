import { numberParam, route } from '@/server/platform/http';
import { listRevisions } from '@/server/lists/revisions';

export const GET = route(async (asked) => ({ revisions: await listRevisions(asked.db, numberParam(asked)) }));
