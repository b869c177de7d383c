import { numberParam, route } from '@/server/platform';

export const DELETE = route(async (asked) => {
  await asked.db.deleteFrom('kept').where('id', '=', numberParam(asked)).execute();
  return { ok: true };
});
