import * as contract from '@/contract';
import { handle } from '@/server/access';
import { sayIntakeSame } from '@/server/sources';

export const POST = handle(contract.sayIntakeSame, async ({ db, params, body }) => {
  await sayIntakeSame(db, params.id, body);
  return contract.done;
});
