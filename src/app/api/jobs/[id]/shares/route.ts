import * as contract from '@/contract';
import { handle, shareWith, sharesOf } from '@/server/access';

export const GET = handle(contract.jobShares, async ({ db, params }) =>
  sharesOf(db, { job: params.id }),
);

export const POST = handle(contract.shareJob, async ({ db, params, body, actor, tell }) => {
  tell(await shareWith(db, { job: params.id }, body, actor));
  return sharesOf(db, { job: params.id });
});
