import * as contract from '@/contract';
import { handle } from '@/server/platform';
import { receiptPages } from '@/server/runs';

export const GET = handle(contract.runPages, async ({ db, params }) => ({
  pages: await receiptPages(db, params.id),
}));
