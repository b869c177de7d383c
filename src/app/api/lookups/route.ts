import * as contract from '@/contract';
import { listLookups } from '@/server/lists';
import { handle } from '@/server/platform';

export const GET = handle(contract.listLookups, async ({ db }) => ({
  lists: await listLookups(db),
}));
