import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiRun } from '@/server/api';

export const GET = handle(contract.apiRun, async ({ db, params }) => apiRun(db, params.id));
