import * as contract from '@/contract';
import { addJob } from '@/server/jobs';
import { handle } from '@/server/platform';

export const POST = handle(contract.addJob, async ({ db, params, body, actor }) => ({
  id: await addJob(db, params.id, body, actor),
}));
