import * as contract from '@/contract';
import { handle } from '@/server/access';
import { stepJob, viewJob } from '@/server/jobs';

export const POST = handle(contract.stepJob, async ({ db, params, body, actor, mayHere }) => {
  const did = await stepJob(db, params.id, body.direction, actor);
  return { did: did ?? null, job: await viewJob(db, params.id, await mayHere()) };
});
