import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keepPdf } from '@/server/documents';
import { bytesOf, fileNameOf, passwordOf, Refusal } from '@/server/platform';

export const POST = handle(contract.bringPdf, async ({ request, db, params, actor }) => {
  const name = fileNameOf(request, 'document.pdf');
  const bytes = await bytesOf(
    request,
    contract.bringPdf.upload.most,
    (n) =>
      new Refusal(`${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 100 MB.`, 413),
  );
  if (bytes.length === 0) throw new Refusal(`${name} is empty: there is not one byte in it.`);
  return keepPdf(db, params.id, name, bytes, actor, passwordOf(request));
});
