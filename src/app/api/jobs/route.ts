import { route } from '@/server/http';
import { listJobs } from '@/server/jobs';

export const GET = route(async ({ db }) => ({ jobs: await listJobs(db) }));
