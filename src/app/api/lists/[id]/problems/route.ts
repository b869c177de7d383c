import * as contract from '@/contract';
import { handle } from '@/server/access';
import { mend, problemRows } from '@/server/lists';

export const GET = handle(contract.listProblems, async ({ db, params, query }) => ({
  rows: await problemRows(db, params.id, query.kind),
}));

export const POST = handle(contract.mendProblems, async ({ db, params, body, actor }) => ({
  mended: await mend(db, params.id, body.kind, body.records, actor),
}));
