import { bytesOf, fileNameOf, redrawnPicture, Refusal, route } from '@/server/platform';

const most = 10 * 2 ** 20;

/** Takes a picture file and gives it back as nothing but pixels. */
export const POST = route(async ({ request }) => {
  const name = fileNameOf(request, 'picture');
  const bytes = await bytesOf(
    request,
    most,
    (n) => new Refusal(`${name} is too large: ${Math.ceil(n / 2 ** 20)} MB of at most 10 MB.`, 413),
  );
  return redrawnPicture(name, bytes);
});
