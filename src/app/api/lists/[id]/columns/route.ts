import { body, numberParam, route } from '@/server/http';
import { keepWorkedColumn, removeWorkedColumn, workedColumnSchema } from '@/server/worked';

/** Adds a worked column, or changes the one whose id is given. */
export const POST = route(async (asked) => ({
  id: await keepWorkedColumn(asked.db, numberParam(asked), await body(asked, workedColumnSchema), asked.actor),
}));

export const DELETE = route(async (asked) => {
  await removeWorkedColumn(asked.db, numberParam(asked), asked.query.get('column') ?? '', asked.actor);
  return { ok: true };
});
