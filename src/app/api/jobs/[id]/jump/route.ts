import * as contract from '@/contract';
import { jump } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.jumpInJob, async ({ db, params, query }) => ({
  index: await jump(db, params.id, query),
}));
