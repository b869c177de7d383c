import { escapedHtml } from '../../core/base/html';

/**
 * A page for strangers: a few words, readable on a phone, without scripts and without loading
 * anything.
 */
export const plainPage = (
  status: number,
  title: string,
  words: readonly string[],
  more = '',
): Response =>
  strangerPage(title, words.map((text) => `<p>${escapedHtml(text)}</p>`).join('') + more, status);

/** For an address that no page has. */
export const noPageHere = (): Response =>
  plainPage(404, 'There is no page at this address', [
    'Scan the code again, or ask the person who gave it to you.',
  ]);

/** The same with its own HTML. @param inside HTML whose every value is escaped */
export function strangerPage(title: string, inside: string, status = 200): Response {
  const html = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><meta name="robots" content="noindex, nofollow"><link rel="icon" href="/icon.svg">
<title>${escapedHtml(title)}</title>
<style>
body{margin:0;background:#f1f2ec;color:#1d1a26;font:17px/1.5 "Atkinson Hyperlegible Next",system-ui,sans-serif}
main{max-width:34rem;margin:0 auto;padding:9vh 22px 40px}
h1{font-size:1.55rem;line-height:1.25;margin:0 0 .6em;overflow-wrap:anywhere}
p{margin:0 0 1em;overflow-wrap:anywhere}
a{color:#2c1f63}
a.go,button{display:inline-block;background:#5736a3;color:#fff;border:0;font:inherit;font-weight:700;text-decoration:none;padding:11px 20px;border-radius:3px;cursor:pointer}
a:focus-visible,button:focus-visible,input:focus-visible{outline:2px solid #5736a3;outline-offset:2px}
code{font-family:ui-monospace,monospace}
.small{font-size:.85rem;color:#575564}
dl{margin:0 0 1.4em;border-top:1.5px solid #1d1a26}
dl div{display:grid;grid-template-columns:minmax(6rem,1fr) 2fr;gap:12px;padding:9px 0;border-bottom:1px solid #d8d9d0}
dt{color:#575564;font-size:.92rem}
dd{margin:0;overflow-wrap:anywhere}
img.of{display:block;width:100%;height:auto;max-height:46vh;object-fit:contain;object-position:left;margin:0 0 1.2em}
img.code{display:block;width:150px;background:#fff;padding:8px;margin:0 0 1.2em}
form{display:grid;gap:14px;max-width:24rem}
form div{display:flex;flex-wrap:wrap;gap:10px}
label{display:grid;gap:4px;font-weight:700}
input{font:inherit;padding:10px 12px;border:1px solid #8b8c82;border-radius:3px;background:#fff;color:inherit}
</style></head>
<body><main><h1>${escapedHtml(title)}</h1>${inside}</main></body></html>`;
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
  'content-security-policy': `default-src 'none'; style-src 'unsafe-inline'; img-src 'self' data:; base-uri 'none'; form-action 'self'; frame-ancestors 'none'`,
} as const;
