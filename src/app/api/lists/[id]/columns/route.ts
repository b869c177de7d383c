import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeColumn, keepWorkedColumn, removeWorkedColumn } from '@/server/lists';

export const POST = handle(contract.keepWorkedColumn, async ({ db, params, body, actor }) => ({
  id: await keepWorkedColumn(db, params.id, body, actor),
}));

export const PATCH = handle(contract.changeColumn, async ({ db, params, body, actor }) => {
  await changeColumn(db, params.id, body, actor);
  return contract.done;
});

export const DELETE = handle(contract.removeWorkedColumn, async ({ db, params, query, actor }) => {
  await removeWorkedColumn(db, params.id, query.column, actor);
  return contract.done;
});
