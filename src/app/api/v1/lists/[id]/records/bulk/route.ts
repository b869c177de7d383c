import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiCreateRecords } from '@/server/api';

export const POST = handle(contract.apiCreateRecords, async ({ db, caller, params, request }) => ({
  ids: await apiCreateRecords(db, caller, params.id, request),
}));
