import { numberParam, route } from '@/server/http';

export const GET = route(async (asked) =>
  asked.db
    .selectFrom('intakes')
    .select(['id', 'file_name', 'state', 'error', 'preview', 'job_id'])
    .where('id', '=', numberParam(asked))
    .executeTakeFirstOrThrow(),
);
