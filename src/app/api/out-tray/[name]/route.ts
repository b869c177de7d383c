import * as contract from '@/contract';
import { viewMessage } from '@/server/delivery';
import { handle } from '@/server/platform';

/** Shown in a frame of the Post room, where it runs nothing, fetches nothing and knows nothing of the page around it. */
const locked = [
  'sandbox',
  `default-src 'none'`,
  'img-src data:',
  `style-src 'unsafe-inline'`,
  `form-action 'none'`,
  `base-uri 'none'`,
  `frame-ancestors 'self'`,
].join('; ');

export const GET = handle(
  contract.viewMessage,
  async ({ params }) =>
    new Response(await viewMessage(params.name), {
      headers: {
        'content-type': 'text/html; charset=utf-8',
        'content-security-policy': locked,
        'x-content-type-options': 'nosniff',
        'referrer-policy': 'no-referrer',
      },
    }),
);
