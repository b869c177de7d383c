import * as contract from '@/contract';
import { handle, note } from '@/server/access';
import { readFilePieces, streamed } from '@/server/platform';
import { runFileFor } from '@/server/runs';

export const GET = handle(contract.runFile, async ({ db, params, person, mayHere, number }) => {
  const file = await runFileFor(db, params.id, await mayHere());
  if (file.secret)
    await note(db, {
      person,
      what: 'Takes a file with secrets in it',
      about: file.name,
      request: number,
    });
  return new Response(streamed(readFilePieces(db, file.id)), {
    headers: {
      'content-type': file.mime,
      'content-length': String(file.size),
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}`,
      'x-content-type-options': 'nosniff',
    },
  });
});
