import * as contract from '@/contract';
import { handle, shareWith, sharesOf } from '@/server/access';

export const GET = handle(contract.listShares, async ({ db, params, person }) =>
  sharesOf(db, { list: params.id }, person),
);

export const POST = handle(
  contract.shareList,
  async ({ db, params, body, actor, person, tell }) => {
    tell(await shareWith(db, { list: params.id }, body, actor, person));
    return sharesOf(db, { list: params.id }, person);
  },
);
