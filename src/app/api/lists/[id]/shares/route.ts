import * as contract from '@/contract';
import { handle, shareWith, sharesOf } from '@/server/access';

export const GET = handle(contract.listShares, async ({ db, params }) =>
  sharesOf(db, { list: params.id }),
);

export const POST = handle(contract.shareList, async ({ db, params, body, actor, tell }) => {
  tell(await shareWith(db, { list: params.id }, body, actor));
  return sharesOf(db, { list: params.id });
});
