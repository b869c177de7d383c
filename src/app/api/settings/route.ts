import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readSettings, writeSettings } from '@/server/platform';

export const GET = handle(contract.viewSettings, async ({ db }) => readSettings(db));

export const PUT = handle(contract.changeSettings, async ({ db, body }) => {
  await writeSettings(db, body);
  return readSettings(db);
});
