import * as contract from '@/contract';
import { handle } from '@/server/access';
import { forgetConnection, tablesOf } from '@/server/sources';

export const GET = handle(contract.listTables, async ({ db, params }) => ({
  tables: await tablesOf(db, params.id),
}));

export const DELETE = handle(contract.forgetConnection, async ({ db, params }) => {
  await forgetConnection(db, params.id);
  return contract.done;
});
