import { numberParam, route } from '@/server/platform';
import { waitsBehind } from '@/server/runs';

export const GET = route(async (asked) => {
  const intake = await asked.db
    .selectFrom('intakes')
    .select([
      'id',
      'file_name',
      'state',
      'error',
      'preview',
      'job_id',
      'list_id',
      'origin',
      'told',
      'same',
    ])
    .where('id', '=', numberParam(asked))
    .executeTakeFirstOrThrow();
  return intake.state === 'waiting'
    ? { ...intake, waits: await waitsBehind(asked.db, intake.id) }
    : intake;
});

/** Sets a re-read aside. */
export const DELETE = route(async (asked) => {
  await asked.db
    .deleteFrom('intakes')
    .where('id', '=', numberParam(asked))
    .where('state', 'in', ['waiting', 'read', 'failed'])
    .execute();
  return { ok: true };
});
