import * as contract from '@/contract';
import { handle } from '@/server/access';
import { sendToPrinter, testPage } from '@/server/delivery';

export const GET = handle(contract.printerTestPage, async ({ db, params }) => {
  const bytes = await testPage(db, params.id);
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': 'application/pdf',
      'content-disposition': 'inline; filename="test-page.pdf"',
    },
  });
});

export const POST = handle(contract.printTestPage, ({ db, params }) =>
  sendToPrinter(db, params.id, 'test page'),
);
