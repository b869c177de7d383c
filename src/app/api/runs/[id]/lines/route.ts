import * as contract from '@/contract';
import { handle } from '@/server/access';
import { receiptPart } from '@/server/runs';

export const GET = handle(contract.runLines, async ({ db, params, query }) => ({
  lines: await receiptPart(
    db,
    params.id,
    query.page === undefined ? 'failed' : { page: query.page },
  ),
}));
