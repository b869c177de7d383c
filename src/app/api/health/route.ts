import { route } from '@/server/http';

export const GET = route(async ({ db }) => {
  await db.selectFrom('settings').select('name').limit(1).execute();
  return { ok: true };
});
