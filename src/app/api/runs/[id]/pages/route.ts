import * as contract from '@/contract';
import { handle } from '@/server/access';
import { receiptPages } from '@/server/runs';

export const GET = handle(contract.runPages, async ({ db, params }) => ({
  pages: await receiptPages(db, params.id),
}));
