import * as contract from '@/contract';
import { handle } from '@/server/access';
import { shownDocument } from '@/server/documents';

export const GET = handle(contract.shownDocument, async ({ db, params }) => {
  const { kind, bytes } = await shownDocument(db, params.id);
  return new Response(Uint8Array.from(bytes), {
    headers: {
      'content-type': contract.shownDocument.answer.files[kind === 'html' ? 1 : 0],
      // it is drawn by our own page only
      'content-security-policy': `sandbox; default-src 'none'`,
      'content-disposition': 'attachment',
      'x-content-type-options': 'nosniff',
      // a document never changes
      'cache-control': 'private, max-age=86400, immutable',
    },
  });
});
