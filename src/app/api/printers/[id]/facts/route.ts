import * as contract from '@/contract';
import { handle } from '@/server/access';
import { askPrinterAgain } from '@/server/delivery';

export const POST = handle(contract.askPrinter, async ({ db, params }) => {
  await askPrinterAgain(db, params.id);
  return contract.done;
});
