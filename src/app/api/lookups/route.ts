import { route } from '@/server/platform';

/** The lists and their columns, for a worked column that looks something up in another list. */
export const GET = route(async ({ db }) => ({
  lists: await db.selectFrom('lists').select(['id', 'name', 'columns']).orderBy('name').execute(),
}));
