import * as contract from '@/contract';
import { handle } from '@/server/access';
import { copyJob } from '@/server/jobs';

export const POST = handle(contract.copyJob, async ({ db, params, person, mayHere }) => ({
  id: await copyJob(db, params.id, person, await mayHere()),
}));
