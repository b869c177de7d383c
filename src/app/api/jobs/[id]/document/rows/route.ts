import * as contract from '@/contract';
import { rowsOfRecord } from '@/server/documents';
import { handle } from '@/server/platform';

export const POST = handle(contract.findRows, async ({ db, params, body }) => ({
  rows: await rowsOfRecord(db, params.id, body.record),
}));
