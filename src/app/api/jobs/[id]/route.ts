import * as contract from '@/contract';
import { includes } from '@/core/access/rights';
import { handle, rightOver } from '@/server/access';
import { changeJob, listIdOf, removeJob, viewJob } from '@/server/jobs';
import { Refusal } from '@/server/platform';

export const GET = handle(contract.viewJob, async ({ db, params, mayHere }) =>
  viewJob(db, params.id, await mayHere()),
);

export const PATCH = handle(
  contract.changeJob,
  async ({ db, params, body, actor, person, mayHere }) => {
    const list = await rightOver(db, person, 'list', await listIdOf(db, params.id));
    await changeJob(db, params.id, body, actor, { mayList: includes(list, 'editor') });
    return viewJob(db, params.id, await mayHere());
  },
);

export const DELETE = handle(contract.removeJob, async ({ db, params, person }) => {
  // with its last job a list goes, so it takes the right to that
  const list = await rightOver(db, person, 'list', await listIdOf(db, params.id));
  if (!includes(list, 'editor'))
    throw new Refusal(
      'This job is shared with you, and its list is not yours to change. Someone who may change the list can throw it away.',
      403,
    );
  await removeJob(db, params.id);
  return contract.done;
});
