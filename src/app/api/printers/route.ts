import * as contract from '@/contract';
import { handle } from '@/server/access';
import { addPrinter, listPrinters } from '@/server/delivery';

export const GET = handle(contract.listPrinters, async ({ db, person }) => ({
  printers: await listPrinters(db, person.right === 'administrator'),
}));

export const POST = handle(contract.addPrinter, async ({ db, body }) => {
  await addPrinter(db, body);
  return contract.done;
});
