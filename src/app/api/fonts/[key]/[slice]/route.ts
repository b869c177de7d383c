import * as contract from '@/contract';
import { handle } from '@/server/access';
import { fontPart, Refusal } from '@/server/platform';

export const GET = handle(contract.typefacePart, async ({ params }) => {
  const file = await fontPart(params.key, params.slice);
  if (!file) throw new Refusal('There is no such part of a typeface.', 404);
  return new Response(Uint8Array.from(file), {
    headers: { 'content-type': 'font/ttf', 'cache-control': 'public, max-age=31536000, immutable' },
  });
});
