import * as contract from '@/contract';
import { startTypedList } from '@/server/jobs';
import { listLists } from '@/server/lists';
import { handle } from '@/server/platform';

export const GET = handle(contract.listLists, async ({ db }) => ({ lists: await listLists(db) }));

export const POST = handle(contract.startTypedList, async ({ db, body, actor }) => ({
  job: await startTypedList(db, body, actor),
}));
