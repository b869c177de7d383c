import * as contract from '@/contract';
import { handle } from '@/server/access';
import { rowsOfRecord } from '@/server/documents';

export const POST = handle(contract.findRows, async ({ db, params, body }) => ({
  rows: await rowsOfRecord(db, params.id, body.record),
}));
