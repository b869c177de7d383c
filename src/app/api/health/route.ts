import { healthDatabase } from '@/server/platform/db';
import { route } from '@/server/platform/http';

export const GET = route(
  async () => {
    await healthDatabase().selectFrom('settings').select('name').limit(1).execute();
    return { ok: true };
  },
  { waits: false },
);
