import { numberParam, route } from '@/server/platform';
import { jump, jumpSchema } from '@/server/jobs';

export const GET = route(async (asked) => ({
  index: await jump(
    asked.db,
    numberParam(asked),
    jumpSchema.parse(Object.fromEntries(asked.query)),
  ),
}));
