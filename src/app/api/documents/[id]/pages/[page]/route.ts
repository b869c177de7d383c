import * as contract from '@/contract';
import { handle } from '@/server/access';
import { pageOfDocument } from '@/server/documents';

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
