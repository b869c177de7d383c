import { z } from 'zod';
import { body, bytesOf, fileNameOf, numberParam, Refusal, route } from '@/server/platform';
import { rejudgePictures } from '@/server/judging';
import { pictureKey } from '@/core/records/picture-key';
import { fetchPictures, keepListPicture } from '@/server/lists';

/** The names of a list's pictures, or one of them. */
export const GET = route(async (asked) => {
  const name = asked.query.get('name');
  const rows = asked.db.selectFrom('list_pictures').where('list_id', '=', numberParam(asked));
  if (name === null)
    return { names: (await rows.select('name').orderBy('name').execute()).map((r) => r.name) };
  const row = await rows.select('picture').where('name', '=', pictureKey(name)).executeTakeFirst();
  return { picture: row?.picture ?? null };
});

/** Takes one picture's bytes, its name in the header `x-file-name`; or fetches those whose addresses stand in a column. */
export const POST = route(async (asked) => {
  const id = numberParam(asked);
  if (asked.request.headers.get('content-type')?.startsWith('application/json')) {
    const { column, after } = await body(
      asked,
      z.object({ column: z.string(), after: z.string().max(4000).optional() }),
    );
    const result = await fetchPictures(asked.db, id, column, after);
    if (result.next === null) await rejudgePictures(asked.db, id);
    return result;
  }
  const bytes = await bytesOf(
    asked.request,
    20 * 2 ** 20,
    () => new Refusal('The picture is larger than 20 MB.', 413),
  );
  await keepListPicture(asked.db, id, fileNameOf(asked.request, ''), bytes);
  if (asked.query.get('last') === 'yes') await rejudgePictures(asked.db, id);
  return { ok: true };
});
