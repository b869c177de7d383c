import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changeJob, removeJob, viewJob } from '@/server/jobs';

export const GET = handle(contract.viewJob, async ({ db, params, mayHere }) =>
  viewJob(db, params.id, await mayHere()),
);

export const PATCH = handle(contract.changeJob, async ({ db, params, body, actor, mayHere }) => {
  await changeJob(db, params.id, body, actor);
  return viewJob(db, params.id, await mayHere());
});

export const DELETE = handle(contract.removeJob, async ({ db, params }) => {
  await removeJob(db, params.id);
  return contract.done;
});
