import * as contract from '@/contract';
import { editCells } from '@/server/lists';
import { handle } from '@/server/platform';

export const POST = handle(contract.editCells, async ({ db, params, body, actor }) => {
  await editCells(db, params.id, body.edits, actor);
  return contract.done;
});
