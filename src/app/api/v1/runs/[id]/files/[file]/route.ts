import * as contract from '@/contract';
import { handle } from '@/server/access';
import { apiRunFile } from '@/server/api';
import { readFilePieces, streamed } from '@/server/platform';

export const GET = handle(contract.apiRunFile, async ({ db, caller, params }) => {
  const file = await apiRunFile(db, caller, params.id, params.file);
  return new Response(streamed(readFilePieces(db, file.id)), {
    headers: {
      'content-type': file.mime,
      'content-length': String(file.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
    },
  });
});
