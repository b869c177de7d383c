import { body, numberParam, route } from '@/server/http';
import { changeRoles, rolesSchema } from '@/server/jobs';

export const POST = route(async (asked) => {
  await changeRoles(asked.db, numberParam(asked), await body(asked, rolesSchema));
  return { ok: true };
});
