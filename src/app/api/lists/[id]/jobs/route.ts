import { body, numberParam, route } from '@/server/platform/http';
import { addJob, newJobSchema } from '@/server/jobs/jobs';

export const POST = route(async (asked) => ({
  id: await addJob(asked.db, numberParam(asked), await body(asked, newJobSchema), asked.actor),
}));
