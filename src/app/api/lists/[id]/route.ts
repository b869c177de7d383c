import * as contract from '@/contract';
import { handle } from '@/server/access';
import { removeList, renameList } from '@/server/lists';

export const PATCH = handle(contract.renameList, async ({ db, params, body }) => {
  await renameList(db, params.id, body);
  return contract.done;
});

export const DELETE = handle(contract.removeList, async ({ db, params }) => {
  await removeList(db, params.id);
  return contract.done;
});
