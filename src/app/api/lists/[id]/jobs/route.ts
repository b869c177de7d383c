import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addJob } from '@/server/jobs';

export const POST = handle(contract.addJob, async ({ db, params, body, actor }) => ({
  id: await addJob(db, params.id, body, actor),
}));
