import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiCreateRecord, apiRecords } from '@/server/api';

export const GET = handle(contract.apiRecords, async ({ db, caller, params, query }) =>
  apiRecords(db, caller, params.id, query),
);

export const POST = handle(contract.apiCreateRecord, async ({ db, caller, params, body }) =>
  apiCreateRecord(db, caller, params.id, body.values),
);
