import * as contract from '@/contract';
import { orderOf } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.jobRowIds, async ({ db, params, query }) => ({
  ids: await orderOf(db, params.id, query),
}));
