import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fetchOwn, ownPage } from '@/server/pages';

export const GET = handle(contract.ownPage, async ({ db, params }) => ownPage(db, params.token));

export const POST = handle(contract.fetchOwn, async ({ db, params, request, number }) =>
  fetchOwn(db, params.token, request, number),
);
