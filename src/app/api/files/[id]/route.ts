import * as contract from '@/contract';
import { handle, fileHead, readFilePieces, streamed } from '@/server/platform';

export const GET = handle(contract.runFile, async ({ db, params }) => {
  const file = await fileHead(db, params.id);
  return new Response(streamed(readFilePieces(db, file.id)), {
    headers: {
      'content-type': file.mime,
      'content-length': String(file.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      'x-content-type-options': 'nosniff',
    },
  });
});
