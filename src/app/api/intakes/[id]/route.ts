import { numberParam, route } from '@/server/http';

export const GET = route(async (asked) =>
  asked.db
    .selectFrom('intakes')
    .select(['id', 'file_name', 'state', 'error', 'preview', 'job_id', 'list_id', 'origin', 'told'])
    .where('id', '=', numberParam(asked))
    .executeTakeFirstOrThrow(),
);

/** Sets a re-read aside. */
export const DELETE = route(async (asked) => {
  await asked.db.deleteFrom('intakes').where('id', '=', numberParam(asked)).where('state', 'in', ['waiting', 'read', 'failed']).execute();
  return { ok: true };
});
