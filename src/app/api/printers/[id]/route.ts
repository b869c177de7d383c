import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keepPrinter, sendToPrinter } from '@/server/delivery';

export const PUT = handle(contract.changePrinter, async ({ db, params, body }) => {
  await keepPrinter(db, params.id, body);
  return contract.done;
});

export const POST = handle(contract.sendToPrinter, async ({ db, params, body }) => {
  await sendToPrinter(db, params.id, body.run);
  return contract.done;
});
