import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fontFile, Refusal } from '@/server/platform';

export const GET = handle(contract.typeface, async ({ params }) => {
  const file = await fontFile(params.key);
  if (!file) throw new Refusal('There is no such typeface.', 404);
  return new Response(Uint8Array.from(file), {
    headers: { 'content-type': 'font/ttf', 'cache-control': 'public, max-age=31536000, immutable' },
  });
});
