import * as contract from '@/contract';
import { handle } from '@/server/access';
import { stopPrint } from '@/server/delivery';

export const DELETE = handle(contract.stopPrintJob, async ({ db, params }) => {
  await stopPrint(db, params.id);
  return contract.done;
});
