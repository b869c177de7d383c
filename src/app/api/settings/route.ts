import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readSettings, settingsInWords, writeSettings } from '@/server/platform';

export const GET = handle(contract.viewSettings, async ({ db }) => readSettings(db));

export const PUT = handle(contract.changeSettings, async ({ db, body, tell }) => {
  await writeSettings(db, body);
  tell(settingsInWords(body));
  return readSettings(db);
});
