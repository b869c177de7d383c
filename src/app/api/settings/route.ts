import { body, readSettings, route, settingsSchema, writeSettings } from '@/server/platform';

export const GET = route(async ({ db }) => readSettings(db));

export const PUT = route(async (asked) => {
  await writeSettings(asked.db, await body(asked, settingsSchema));
  return readSettings(asked.db);
});
