import * as contract from '@/contract';
import { ledgerRows } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.jobRows, async ({ db, params, query }) =>
  ledgerRows(db, params.id, query),
);
