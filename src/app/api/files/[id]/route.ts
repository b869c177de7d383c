import { numberParam, readFilePieces, route, streamed } from '@/server/platform';

export const GET = route(async (asked) => {
  const file = await asked.db
    .selectFrom('files')
    .select(['id', 'name', 'mime', 'size'])
    .where('id', '=', numberParam(asked))
    .executeTakeFirstOrThrow();
  return new Response(streamed(readFilePieces(asked.db, file.id)), {
    headers: {
      'content-type': file.mime,
      'content-length': String(file.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      'x-content-type-options': 'nosniff',
    },
  });
});
