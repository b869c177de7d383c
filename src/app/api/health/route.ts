import { healthDatabase, route } from '@/server/platform';

export const GET = route(
  async () => {
    await healthDatabase().selectFrom('settings').select('name').limit(1).execute();
    return { ok: true };
  },
  { waits: false },
);
