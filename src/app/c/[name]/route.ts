import { createHash } from 'node:crypto';
import * as contract from '@/contract';
import { handle } from '@/server/access';
import { codeAt } from '@/server/links';

const types = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  svg: 'image/svg+xml',
  eps: 'application/postscript',
  pdf: 'application/pdf',
};

export const GET = handle(contract.codePicture, async ({ db, params, query, request }) => {
  const { bytes, format } = await codeAt(db, params.name, query);
  const headers = {
    'content-type': types[format],
    etag: `"${createHash('sha256').update(bytes).digest('base64url').slice(0, 22)}"`,
    // a change of the code is seen within a minute, and whoever asks again without one is told so
    // in a line (RFC 9110, 13)
    'cache-control': 'public, max-age=60',
    'access-control-allow-origin': '*',
    'x-robots-tag': 'noindex',
  };
  const has = request.headers.get('if-none-match')?.split(/\s*,\s*/) ?? [];
  if (has.includes('*') || has.some((tag) => tag.replace(/^W\//, '') === headers.etag))
    return new Response(null, { status: 304, headers });
  return new Response(Buffer.from(bytes), { headers });
});
