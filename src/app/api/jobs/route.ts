import { route } from '@/server/platform/http';
import { listJobs } from '@/server/jobs/jobs';

export const GET = route(async ({ db }) => ({ jobs: await listJobs(db) }));
