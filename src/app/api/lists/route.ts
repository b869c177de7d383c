import * as contract from '@/contract';
import { handle, seenBy } from '@/server/access';
import { startTypedList } from '@/server/jobs';
import { listLists } from '@/server/lists';

export const GET = handle(contract.listLists, async ({ db, person }) => ({
  lists: await listLists(db, await seenBy(db, person)),
}));

export const POST = handle(contract.startTypedList, async ({ db, body, actor }) => ({
  job: await startTypedList(db, body, actor),
}));
