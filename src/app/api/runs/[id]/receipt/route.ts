import * as contract from '@/contract';
import { handle } from '@/server/access';
import { streamed } from '@/server/platform';
import { receiptCsv, receiptJson, receiptPdf } from '@/server/runs';

const types = {
  csv: 'text/csv; charset=utf-8',
  json: 'application/json',
  pdf: 'application/pdf',
};

export const GET = handle(contract.runReceipt, async ({ db, params: { id }, query: { as } }) => {
  const headers = {
    'content-type': types[as],
    'content-disposition': `attachment; filename="receipt-${id}.${as}"`,
  };
  if (as === 'pdf') return new Response(Buffer.from(await receiptPdf(db, id)), { headers });
  const parts = as === 'csv' ? await receiptCsv(db, id) : await receiptJson(db, id);
  return new Response(streamed(parts), { headers });
});
