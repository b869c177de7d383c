import * as contract from '@/contract';
import { handle } from '@/server/access';
import { rejudgePictures } from '@/server/judging';
import { keepListPicture, pictureNames } from '@/server/lists';
import { bytesOf, fileNameOf, Refusal } from '@/server/platform';

export const GET = handle(contract.listPictureNames, async ({ db, params }) => ({
  names: await pictureNames(db, params.id),
}));

export const POST = handle(contract.addListPicture, async ({ request, db, params, query }) => {
  const bytes = await bytesOf(
    request,
    contract.addListPicture.upload.most,
    () => new Refusal('The picture is larger than 20 MB.', 413),
  );
  await keepListPicture(db, params.id, fileNameOf(request, ''), bytes);
  if (query.last === 'yes') await rejudgePictures(db, params.id);
  return contract.done;
});
