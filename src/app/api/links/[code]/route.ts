import * as contract from '@/contract';
import { handle } from '@/server/access';
import { viewLink } from '@/server/links';

export const GET = handle(contract.viewLink, async ({ db, params, mayHere }) =>
  viewLink(db, params.code, await mayHere()),
);
