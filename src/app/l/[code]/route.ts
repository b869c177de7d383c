import * as contract from '@/contract';
import { handle } from '@/server/access';
import { followLink } from '@/server/links';

export const GET = handle(contract.followLink, async ({ db, params, request }) =>
  followLink(db, params.code, request),
);
