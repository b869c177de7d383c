import { Refusal, route } from '@/server/http';
import { keepPicture } from '@/server/pictures';

const most = 10 * 2 ** 20;

/** Takes a picture file and gives it back as nothing but pixels. */
export const POST = route(async ({ request }) => {
  const name = decodeURIComponent(request.headers.get('x-file-name') ?? 'picture').slice(0, 200);
  const bytes = Buffer.from(await request.arrayBuffer());
  if (bytes.length > most) throw new Refusal(`${name} is too large: ${Math.ceil(bytes.length / 2 ** 20)} MB of at most 10 MB.`);
  return keepPicture(name, bytes);
});
