import * as contract from '@/contract';
import { handle } from '@/server/access';
import { quickPrint } from '@/server/runs';

export const POST = handle(contract.quickPrint, async ({ db, params, body, actor }) => ({
  id: await quickPrint(db, params.id, body, actor),
}));
