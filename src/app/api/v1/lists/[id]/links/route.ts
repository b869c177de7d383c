import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiLinks } from '@/server/api';

export const GET = handle(contract.apiLinks, async ({ db, caller, params, query }) =>
  apiLinks(db, caller, params.id, query),
);
