import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readAgain } from '@/server/sources';

export const POST = handle(contract.readListAgain, async ({ db, params, actor }) => ({
  id: await readAgain(db, params.id, actor),
}));
