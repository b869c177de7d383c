import {
  changeColumn,
  columnsChangeSchema,
  keepWorkedColumn,
  removeWorkedColumn,
  workedColumnSchema,
} from '@/server/lists';
import { body, numberParam, route } from '@/server/platform';

/** Adds a worked column, or changes the one whose id is given. */
export const POST = route(async (asked) => ({
  id: await keepWorkedColumn(
    asked.db,
    numberParam(asked),
    await body(asked, workedColumnSchema),
    asked.actor,
  ),
}));

/** Says what columns are for, renames, hides, moves or adds them. */
export const PATCH = route(async (asked) => {
  await changeColumn(
    asked.db,
    numberParam(asked),
    await body(asked, columnsChangeSchema),
    asked.actor,
  );
  return { ok: true };
});

export const DELETE = route(async (asked) => {
  await removeWorkedColumn(
    asked.db,
    numberParam(asked),
    asked.query.get('column') ?? '',
    asked.actor,
  );
  return { ok: true };
});
