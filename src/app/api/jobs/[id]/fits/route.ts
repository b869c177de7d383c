import * as contract from '@/contract';
import { handle } from '@/server/access';
import { symbologyFits } from '@/server/jobs';

export const GET = handle(contract.symbologyFits, async ({ db, params, query }) =>
  symbologyFits(db, params.id, query.stamp),
);
