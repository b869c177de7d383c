import * as contract from '@/contract';
import { handle } from '@/server/access';
import { bytesOf, fileNameOf, redrawnPicture, Refusal } from '@/server/platform';

export const POST = handle(contract.redrawPicture, async ({ request }) => {
  const name = fileNameOf(request, 'picture');
  const bytes = await bytesOf(
    request,
    contract.redrawPicture.upload.most,
    (n) => new Refusal(`${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 10 MB.`, 413),
  );
  return redrawnPicture(name, bytes);
});
