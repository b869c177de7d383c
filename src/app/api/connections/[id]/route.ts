import { numberParam, route } from '@/server/platform';
import { tablesOf } from '@/server/sources';

export const GET = route(async (asked) => ({
  tables: await tablesOf(asked.db, numberParam(asked)),
}));

export const DELETE = route(async (asked) => {
  await asked.db.deleteFrom('connections').where('id', '=', numberParam(asked)).execute();
  return { ok: true };
});
