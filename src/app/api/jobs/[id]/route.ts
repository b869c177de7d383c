import { body, numberParam, route } from '@/server/platform';
import { changeJob, jobChangeSchema, removeJob, viewJob } from '@/server/jobs';

export const GET = route(async (asked) => viewJob(asked.db, numberParam(asked)));

export const PATCH = route(async (asked) => {
  const id = numberParam(asked);
  await changeJob(asked.db, id, await body(asked, jobChangeSchema, 'document'), asked.actor);
  return viewJob(asked.db, id);
});

export const DELETE = route(async (asked) => {
  await removeJob(asked.db, numberParam(asked));
  return { ok: true };
});
