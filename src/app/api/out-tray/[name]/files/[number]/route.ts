import * as contract from '@/contract';
import { handle } from '@/server/access';
import { messageFile } from '@/server/delivery';

export const GET = handle(contract.messageFile, async ({ params }) => {
  const { name, bytes } = await messageFile(params.name, params.number);
  return new Response(Uint8Array.from(bytes), {
    headers: {
      'content-type': 'application/octet-stream',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      'x-content-type-options': 'nosniff',
    },
  });
});
