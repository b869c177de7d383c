import { body, route } from '@/server/platform';
import { listLists } from '@/server/lists';
import { startTypedList, typedListSchema } from '@/server/jobs';

export const GET = route(async ({ db }) => ({ lists: await listLists(db) }));

/** Starts a list to type into. */
export const POST = route(async (asked) => ({
  job: await startTypedList(asked.db, await body(asked, typedListSchema, 'records'), asked.actor),
}));
