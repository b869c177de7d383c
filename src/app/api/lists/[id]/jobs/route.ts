import { body, numberParam, route } from '@/server/platform';
import { addJob, newJobSchema } from '@/server/jobs';

export const POST = route(async (asked) => ({
  id: await addJob(asked.db, numberParam(asked), await body(asked, newJobSchema), asked.actor),
}));
