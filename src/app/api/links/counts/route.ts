import * as contract from '@/contract';
import { handle } from '@/server/access';
import { linkCounts } from '@/server/links';

export const GET = handle(contract.linkCounts, async ({ db, query, mayHere }) =>
  linkCounts(db, query.list, await mayHere()),
);
