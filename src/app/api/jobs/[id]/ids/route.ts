import { numberParam, route } from '@/server/platform';
import { orderOf, viewSchema } from '@/server/jobs';

/** The numbers of all records that a view shows, to tick them. */
export const GET = route(async (asked) => ({
  ids: await orderOf(
    asked.db,
    numberParam(asked),
    viewSchema.parse(Object.fromEntries(asked.query)),
  ),
}));
