import { numberParam, route } from '@/server/http';
import { readFilePieces } from '@/server/files';

export const GET = route(async (asked) => {
  const file = await asked.db
    .selectFrom('files')
    .select(['id', 'name', 'mime', 'size'])
    .where('id', '=', numberParam(asked))
    .executeTakeFirstOrThrow();
  const pieces = readFilePieces(asked.db, file.id);
  const stream = new ReadableStream<Uint8Array>({
    async pull(controller) {
      const { value, done } = await pieces.next();
      if (done) controller.close();
      else controller.enqueue(value);
    },
  });
  return new Response(stream, {
    headers: {
      'content-type': file.mime,
      'content-length': String(file.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      'x-content-type-options': 'nosniff',
    },
  });
});
