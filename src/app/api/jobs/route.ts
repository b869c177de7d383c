import * as contract from '@/contract';
import { handle, seenBy } from '@/server/access';
import { listJobs } from '@/server/jobs';

export const GET = handle(contract.listJobs, async ({ db, person }) => ({
  jobs: await listJobs(db, (await seenBy(db, person))?.jobs),
}));
