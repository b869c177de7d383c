import * as contract from '@/contract';
import { handle } from '@/server/access';
import { readIntakeAs } from '@/server/sources';

export const POST = handle(contract.readIntakeAs, async ({ db, params, body }) => {
  await readIntakeAs(db, params.id, body);
  return contract.done;
});
