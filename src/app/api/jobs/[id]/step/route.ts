import * as contract from '@/contract';
import { stepJob, viewJob } from '@/server/jobs';
import { handle } from '@/server/platform';

export const POST = handle(contract.stepJob, async ({ db, params, body, actor }) => {
  const did = await stepJob(db, params.id, body.direction, actor);
  return { did: did ?? null, job: await viewJob(db, params.id) };
});
