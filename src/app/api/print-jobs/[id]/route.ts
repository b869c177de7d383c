import * as contract from '@/contract';
import { stopPrint } from '@/server/delivery';
import { handle } from '@/server/platform';

export const DELETE = handle(contract.stopPrintJob, async ({ db, params }) => {
  await stopPrint(db, params.id);
  return contract.done;
});
