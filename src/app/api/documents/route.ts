import * as contract from '@/contract';
import { handle } from '@/server/access';
import { keepDocument } from '@/server/documents';
import { bytesOf, fileNameOf, Refusal } from '@/server/platform';

export const POST = handle(contract.bringDocument, async ({ request, db, actor }) => {
  const name = fileNameOf(request, 'document.docx');
  const bytes = await bytesOf(
    request,
    contract.bringDocument.upload.most,
    (n) =>
      new Refusal(
        `${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 20 MB. Make its pictures smaller and save it again.`,
        413,
      ),
  );
  if (bytes.length === 0) throw new Refusal(`${name} is empty: there is not one byte in it.`);
  return keepDocument(db, name, bytes, actor);
});
