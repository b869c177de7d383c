import * as contract from '@/contract';
import { handle, shareWith, sharesOf } from '@/server/access';

export const GET = handle(contract.jobShares, async ({ db, params, person }) =>
  sharesOf(db, { job: params.id }, person),
);

export const POST = handle(contract.shareJob, async ({ db, params, body, actor, person, tell }) => {
  tell(await shareWith(db, { job: params.id }, body, actor, person));
  return sharesOf(db, { job: params.id }, person);
});
