import * as contract from '@/contract';
import { listJobs } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.listJobs, async ({ db }) => ({ jobs: await listJobs(db) }));
