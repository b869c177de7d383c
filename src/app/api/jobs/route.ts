import { route } from '@/server/platform';
import { listJobs } from '@/server/jobs';

export const GET = route(async ({ db }) => ({ jobs: await listJobs(db) }));
