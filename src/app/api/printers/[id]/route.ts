import * as contract from '@/contract';
import { handle } from '@/server/access';
import { changePrinter, removePrinter, sendToPrinter } from '@/server/delivery';

export const PUT = handle(contract.changePrinter, async ({ db, params, body }) => {
  await changePrinter(db, params.id, body);
  return contract.done;
});

export const POST = handle(contract.sendToPrinter, ({ db, params, body }) =>
  sendToPrinter(db, params.id, { run: body.run }, body.anyway),
);

export const DELETE = handle(contract.removePrinter, async ({ db, params }) => {
  await removePrinter(db, params.id);
  return contract.done;
});
