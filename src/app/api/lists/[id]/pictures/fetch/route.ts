import * as contract from '@/contract';
import { handle } from '@/server/access';
import { rejudgePictures } from '@/server/judging';
import { fetchPictures } from '@/server/lists';

export const POST = handle(contract.fetchListPictures, async ({ db, params, body }) => {
  const told = await fetchPictures(db, params.id, body.column, body.after);
  if (told.next === null) await rejudgePictures(db, params.id);
  return told;
});
