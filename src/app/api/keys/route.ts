import { keyRightWords } from '@/core/access/keys';
import * as contract from '@/contract';
import { handle, listKeys, makeKey } from '@/server/access';

export const GET = handle(contract.listKeys, async ({ db }) => ({ keys: await listKeys(db) }));

export const POST = handle(contract.makeKey, async ({ db, body, actor, tell }) => {
  tell(`${body.name}: ${body.rights.map((right) => keyRightWords[right].name).join(', ')}`);
  return makeKey(db, body, actor);
});
