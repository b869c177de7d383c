import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiJob } from '@/server/api';

export const GET = handle(contract.apiJob, async ({ db, params }) => apiJob(db, params.id));
