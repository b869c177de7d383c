import * as contract from '@/contract';
import { handle } from '@/server/access';
import { columnSessions } from '@/server/checkpoints';

export const GET = handle(contract.columnSessions, async ({ db, params, query }) => ({
  values: await columnSessions(db, params.id, query.column),
}));
