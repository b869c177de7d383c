import { escapedHtml } from '../../core/base/html';

/** A page for strangers: a few words, readable on a phone, that runs nothing and fetches nothing. */
export function plainPage(
  status: number,
  title: string,
  words: readonly string[],
  more = '',
): Response {
  const html = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex">
<title>${escapedHtml(title)}</title>
<style>
body{margin:0;background:#f1f1ec;color:#1c1b22;font:17px/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:12vh 22px 40px}
h1{font-size:1.5rem;line-height:1.25;margin:0 0 .6em}
p{margin:0 0 1em;overflow-wrap:anywhere}
a{color:#46298f}
a.go{display:inline-block;background:#5534a5;color:#fff;text-decoration:none;font-weight:700;padding:12px 20px;border-radius:3px}
a:focus-visible{outline:2px solid #5534a5;outline-offset:2px}
code{font-family:ui-monospace,monospace}
.small{font-size:.85rem;color:#55535f}
</style></head>
<body><main><h1>${escapedHtml(title)}</h1>${words.map((text) => `<p>${escapedHtml(text)}</p>`).join('')}${more}</main></body></html>`;
  return new Response(html, { status, headers: pageHeaders });
}

export const strangerHeaders = {
  'cache-control': 'no-store',
  'referrer-policy': 'no-referrer',
  'x-robots-tag': 'noindex, nofollow',
} as const;

const pageHeaders = {
  ...strangerHeaders,
  'content-type': 'text/html; charset=utf-8',
  'content-security-policy': `default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'`,
} as const;
