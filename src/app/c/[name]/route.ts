import { codeAt, wantedSchema } from '@/server/links';
import { route } from '@/server/platform';

const types = {
  png: 'image/png',
  jpeg: 'image/jpeg',
  svg: 'image/svg+xml',
  eps: 'application/postscript',
  pdf: 'application/pdf',
};

/** The picture of one record's code, at an address that nobody can guess: for pages and mails of others. */
export const GET = route(
  async (asked) => {
    const { bytes, format } = await codeAt(
      asked.db,
      asked.params.name,
      wantedSchema.parse(Object.fromEntries(asked.query)),
    );
    return new Response(Buffer.from(bytes), {
      headers: {
        'content-type': types[format],
        'cache-control': 'private, max-age=60',
        'x-robots-tag': 'noindex',
      },
    });
  },
  { strangers: true },
);
