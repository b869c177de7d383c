import * as contract from '@/contract';
import { pageOfDocument } from '@/server/documents';
import { handle } from '@/server/platform';

export const GET = handle(contract.documentPage, async ({ db, params }) => {
  const bytes = await pageOfDocument(db, params.id, params.page);
  return new Response(Uint8Array.from(bytes), {
    headers: {
      'content-type': 'image/png',
      'x-content-type-options': 'nosniff',
      // a document never changes
      'cache-control': 'private, max-age=86400, immutable',
    },
  });
});
