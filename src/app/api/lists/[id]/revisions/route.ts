import { numberParam, route } from '@/server/platform';
import { listRevisions } from '@/server/lists';

export const GET = route(async (asked) => ({
  revisions: await listRevisions(asked.db, numberParam(asked)),
}));
