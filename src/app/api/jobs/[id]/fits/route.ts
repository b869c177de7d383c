import * as contract from '@/contract';
import { symbologyFits } from '@/server/jobs';
import { handle } from '@/server/platform';

export const GET = handle(contract.symbologyFits, async ({ db, params, query }) =>
  symbologyFits(db, params.id, query.stamp),
);
