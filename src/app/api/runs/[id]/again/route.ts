import * as contract from '@/contract';
import { handle } from '@/server/access';
import { runAgain } from '@/server/runs';

export const POST = handle(contract.runAgain, async ({ db, params, actor }) => ({
  id: await runAgain(db, params.id, actor),
}));
