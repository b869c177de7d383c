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

export const GET = handle(contract.codePicture, async ({ db, params, query }) => {
  const { bytes, format } = await codeAt(db, params.name, query);
  return new Response(Buffer.from(bytes), {
    headers: {
      'content-type': types[format],
      'cache-control': 'private, max-age=60',
      'x-robots-tag': 'noindex',
    },
  });
});
