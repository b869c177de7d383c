import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiLists } from '@/server/api';

export const GET = handle(contract.apiLists, async ({ db, caller }) => ({
  lists: await apiLists(db, caller),
}));
