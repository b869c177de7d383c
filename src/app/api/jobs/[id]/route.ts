import * as contract from '@/contract';
import { changeJob, removeJob, viewJob } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.viewJob, async ({ db, params }) => viewJob(db, params.id));

export const PATCH = handle(contract.changeJob, async ({ db, params, body, actor }) => {
  await changeJob(db, params.id, body, actor);
  return viewJob(db, params.id);
});

export const DELETE = handle(contract.removeJob, async ({ db, params }) => {
  await removeJob(db, params.id);
  return contract.done;
});
