import * as contract from '@/contract';
import { handle } from '@/server/access';
import { listLookups } from '@/server/lists';

export const GET = handle(contract.listLookups, async ({ db }) => ({
  lists: await listLookups(db),
}));
