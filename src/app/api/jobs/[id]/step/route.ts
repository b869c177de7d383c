import * as contract from '@/contract';
import { handle, rightOver } from '@/server/access';
import { listIdOf, stepJob, viewJob } from '@/server/jobs';

export const POST = handle(
  contract.stepJob,
  async ({ db, params, body, actor, person, mayHere }) => {
    const mayList = await rightOver(db, person, 'list', await listIdOf(db, params.id));
    const { direction, seen } = body;
    const did = await stepJob(db, params.id, direction, actor, { mayList, seen });
    return { did: did ?? null, job: await viewJob(db, params.id, await mayHere()) };
  },
);
