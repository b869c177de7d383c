import * as contract from '@/contract';
import { handle } from '@/server/access';
import { editCells } from '@/server/lists';

export const POST = handle(contract.editCells, async ({ db, params, body, actor }) => {
  await editCells(db, params.id, body.edits, actor);
  return contract.done;
});
