import * as contract from '@/contract';
import { handle } from '@/server/access';
import { jump } from '@/server/jobs';

export const GET = handle(contract.jumpInJob, async ({ db, params, query, mayHere }) => ({
  index: await jump(db, params.id, query, await mayHere()),
}));
