import { body, numberParam, route } from '@/server/platform';
import { removeList, renameList, renameSchema } from '@/server/lists';

export const PATCH = route(async (asked) => {
  await renameList(asked.db, numberParam(asked), await body(asked, renameSchema));
  return { ok: true };
});

export const DELETE = route(async (asked) => {
  await removeList(asked.db, numberParam(asked));
  return { ok: true };
});
