import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiJobs } from '@/server/api';

export const GET = handle(contract.apiJobs, async ({ db, caller }) => ({
  jobs: await apiJobs(db, caller),
}));
