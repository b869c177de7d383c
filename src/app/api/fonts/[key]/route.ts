import { fontFile, Refusal, route } from '@/server/platform';

export const GET = route(async ({ params }) => {
  const file = await fontFile(params.key);
  if (!file) throw new Refusal('There is no such typeface.', 404);
  return new Response(Uint8Array.from(file), {
    headers: { 'content-type': 'font/ttf', 'cache-control': 'public, max-age=31536000, immutable' },
  });
});
