import * as contract from '@/contract';
import { handle } from '@/server/access';
import { rereadRows } from '@/server/sources';

export const GET = handle(contract.intakeRows, async ({ db, params, query }) => ({
  rows: await rereadRows(db, params.id, query.from, query.change),
}));
