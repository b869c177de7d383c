import * as contract from '@/contract';
import { handle } from '@/server/access';
import { hiddenFrom, orderOf } from '@/server/jobs';

export const GET = handle(contract.jobRowIds, async ({ db, params, query, mayHere }) => ({
  ids: await orderOf(db, params.id, query, await hiddenFrom(db, params.id, await mayHere())),
}));
