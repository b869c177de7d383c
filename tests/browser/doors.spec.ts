import { createServer, request as ask, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { brotliDecompressSync, gunzipSync } from 'node:zlib';
import { expect, test } from '../helpers/browser';

const here = new URL(process.env.HAND_STAMP_URL ?? 'http://127.0.0.1:3000');

/** What a request with any headers is answered with; `fetch` would not let `Host` be chosen. */
const answer = (method: string, path: string, headers: Record<string, string>, content?: string) =>
  new Promise<{ status: number; headers: Record<string, unknown>; text: string }>(
    (resolve, reject) => {
      const asked = ask(
        {
          host: here.hostname,
          port: here.port,
          method,
          path,
          headers:
            content === undefined
              ? headers
              : { ...headers, 'content-length': Buffer.byteLength(content) },
        },
        (response) => {
          let text = '';
          // an endless answer, such as the news, has shown enough with its headers
          const done = () => (
            resolve({ status: response.statusCode ?? 0, headers: response.headers, text }),
            response.destroy()
          );
          if (response.headers['content-type']?.startsWith('text/event-stream')) return done();
          response.setEncoding('utf8').on('data', (part: string) => (text += part));
          response.on('end', done);
        },
      );
      asked.on('error', reject);
      asked.end(content);
    },
  );

test('no door does anything for a foreign page or a foreign name', async () => {
  // every single route: tests/server/rights.test.ts
  const scans = { method: 'POST', path: '/api/checkpoints/1/scans' };
  for (const { method, path } of [{ method: 'GET', path: '/api/jobs' }, scans])
    for (const [headers, status] of [
      [{ host: 'rebound.example' }, 421],
      [{ origin: 'https://elsewhere.example', 'sec-fetch-site': 'cross-site' }, 403],
      [{ origin: 'http://127.0.0.1:1', 'sec-fetch-site': 'same-site' }, 403],
      [{ origin: 'https://elsewhere.example' }, 403],
    ] as const) {
      const given = await answer(
        method,
        path,
        {
          'content-type': 'application/json',
          ...(Object.assign({ host: here.host }, headers) as unknown as Record<string, string>),
        },
        method === 'GET' ? undefined : '{}',
      );
      expect([path, headers, given.status]).toEqual([path, headers, status]);
    }
  for (const path of ['/c/none', '/f/none', '/l/none', '/r/none', '/api/calls/none'])
    expect([
      path,
      (await answer(path.includes('calls') ? 'POST' : 'GET', path, {})).status,
    ]).toEqual([path, 404]);
  expect((await answer('GET', '/api/v1/jobs', {})).status).toBe(401);
  expect((await answer('GET', '/api/nothing', {})).status).toBe(404);
  expect((await answer('DELETE', '/api/jobs', {})).headers.allow).toContain('GET');
});

test('pages run their own scripts only, stand in no frame, and say nothing of themselves elsewhere', async ({
  page,
}) => {
  const against: string[] = [];
  page.on(
    'console',
    (message) => /content security policy/i.test(message.text()) && against.push(message.text()),
  );
  for (const path of ['/jobs', '/lists', '/code', '/bring-in', '/post-room', '/settings']) {
    const response = await page.goto(path);
    const headers = response!.headers();
    expect(headers['content-security-policy']).toMatch(
      /script-src 'self' 'nonce-[\w+/=]{24}' 'strict-dynamic'/,
    );
    expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
    expect(headers).toMatchObject({
      'x-content-type-options': 'nosniff',
      'referrer-policy': 'same-origin',
      'cross-origin-resource-policy': 'same-origin',
    });
    await expect(page.getByRole('heading', { level: 1 })).toBeVisible();
  }
  expect(against).toEqual([]);
  const nonce = async () =>
    /nonce-([^']+)/.exec((await page.goto('/jobs'))!.headers()['content-security-policy']!)?.[1];
  expect(await nonce()).not.toBe(await nonce());
  // a script that came in with something does not run
  await page.goto('/jobs');
  await page.evaluate(() =>
    document.body.insertAdjacentHTML(
      'beforeend',
      '<img src="data:image/png,x" onerror="document.title = \'taken\'">',
    ),
  );
  await expect.poll(() => against.length).toBe(1);
  expect(await page.title()).not.toBe('taken');
});

test('a page of another origin cannot change or read anything, though the browser reaches this machine', async ({
  page,
}) => {
  const serve = (html: string) =>
    new Promise<Server>((resolve) => {
      const server = createServer((_, response) =>
        response.setHeader('content-type', 'text/html').end(html),
      );
      server.listen(0, '127.0.0.1', () => resolve(server));
    });
  const server = await serve('<!doctype html><title>Elsewhere</title>');
  try {
    const lists = async () => (await (await fetch(`${here.origin}/api/lists`)).json()) as unknown;
    const before = await lists();
    for (const host of ['127.0.0.1', 'localhost']) {
      await page.goto(`http://${host}:${(server.address() as AddressInfo).port}/`);
      const got = await page.evaluate(async (url) => {
        const blind = await fetch(`${url}/api/kept`, {
          method: 'POST',
          mode: 'no-cors',
          headers: { 'content-type': 'text/plain' },
          body: '{"kind":"look","name":"planted","value":{}}',
        }).then(
          () => 'sent',
          () => 'kept out',
        );
        const read = await fetch(`${url}/api/lists`).then(
          () => 'read',
          () => 'kept out',
        );
        const framed = await new Promise<string>((resolve) => {
          const frame = document.createElement('iframe');
          frame.onload = () => {
            try {
              resolve(frame.contentDocument?.body ? 'read' : 'kept out');
            } catch {
              resolve('kept out');
            }
          };
          frame.src = `${url}/jobs`;
          document.body.append(frame);
        });
        return { blind, read, framed };
      }, here.origin);
      expect(got).toMatchObject({ read: 'kept out', framed: 'kept out' });
    }
    expect(await lists()).toEqual(before);
    expect(
      JSON.stringify(await (await fetch(`${here.origin}/api/kept?kind=look`)).json()),
    ).not.toContain('planted');
  } finally {
    server.close();
  }
});

test('a job that is not there, and an address that leads nowhere, say so with 404', async ({
  page,
}) => {
  const gone = await page.goto('/jobs/999999');
  expect(gone!.status()).toBe(404);
  await expect(page.getByRole('heading', { name: 'This page does not exist' })).toBeVisible();
  for (const place of ['/jobs/abc', '/orders/abc', '/checkpoints/abc', '/rounds/abc'])
    expect((await page.request.get(place)).status(), place).toBe(404);
  await page.setViewportSize({ width: 320, height: 640 });
  const nowhere = await page.goto('/nowhere/at-all');
  expect(nowhere!.status()).toBe(404);
  await expect(
    page.getByRole('heading', { name: 'There is nothing at this address' }),
  ).toBeVisible();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(320);
});

test('a job that is long in coming says that it is being opened, and then is', async ({ page }) => {
  await page.goto('/jobs');
  const job = page.getByRole('link', { name: 'Badges, open weekend' });
  const address = await job.getAttribute('href');
  // the loading screen comes early, the job itself only when it is released
  let letThrough = (): void => undefined;
  const held = new Promise<void>((resolve) => (letThrough = resolve));
  await page.route(/\/jobs\/\d+\?_rsc=/, async (route) => {
    if (!route.request().headers()['next-router-prefetch']) await held;
    await route.continue().catch(() => undefined);
  });
  await expect(async () => {
    const ahead = page.waitForResponse((told) => {
      const headers = told.request().headers();
      const whole = headers['next-router-prefetch'] && !headers['next-router-segment-prefetch'];
      return Boolean(whole) && new URL(told.url()).pathname === address;
    });
    await page.goto('/jobs');
    // only what is reached for comes early
    await job.hover();
    await ahead;
    await job.click();
    await expect(page.getByText('Opening the job …')).toBeVisible({ timeout: 3000 });
  }).toPass();
  letThrough();
  await expect(page.locator('#row-0')).toBeVisible();
  await expect(page.getByText('Opening the job …')).toHaveCount(0);
});

test('scripts come as small as the browser takes them; nothing else lies behind their path', async () => {
  const page = await (await fetch(new URL('/sign-in', here))).text();
  const script = /\/_next\/static\/chunks\/[\w.-]+\.js/.exec(page)![0];
  /** As raw bytes; paths are sent as they are written. */
  const get = (path: string, headers: Record<string, string>, method = 'GET') =>
    new Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }>(
      (resolve, reject) =>
        ask({ host: here.hostname, port: here.port, path, method, headers }, (answer) => {
          const parts: Buffer[] = [];
          answer.on('data', (part: Buffer) => parts.push(part));
          answer.on('end', () =>
            resolve({
              status: answer.statusCode!,
              headers: answer.headers,
              body: Buffer.concat(parts),
            }),
          );
        })
          .on('error', reject)
          .end(),
    );
  const plain = await get(script, {});
  expect(plain.headers['content-encoding']).toBeUndefined();
  for (const [taken, coding, unpack] of [
    ['gzip, deflate, br, zstd', 'br', brotliDecompressSync],
    ['gzip, deflate', 'gzip', gunzipSync],
    ['br;q=0, gzip', 'gzip', gunzipSync],
    ['br;q=0.5', 'br', brotliDecompressSync],
  ] as const) {
    const small = await get(script, { 'accept-encoding': taken });
    expect(small.status).toBe(200);
    expect(small.headers).toMatchObject({
      'content-encoding': coding,
      'content-type': 'text/javascript; charset=utf-8',
      'cache-control': 'public, max-age=31536000, immutable',
      'x-content-type-options': 'nosniff',
      'cross-origin-resource-policy': 'same-origin',
      vary: 'Accept-Encoding',
    });
    expect(small.body.length).toBeLessThan(plain.body.length / 2);
    expect(unpack(small.body).equals(plain.body)).toBe(true);
  }
  const head = await get(script, { 'accept-encoding': 'br' }, 'HEAD');
  expect([head.status, head.body.length]).toEqual([200, 0]);
  // a range that ends before it begins, and what climbs out
  const ranged = await get(script, { 'accept-encoding': 'br', range: 'bytes=5-2' });
  expect(brotliDecompressSync(ranged.body).equals(plain.body)).toBe(true);
  for (const path of [
    '/_next/static/../server/middleware.js',
    '/_next/static/%2e%2e/server/middleware.js',
    '/_next/static/..%2f..%2fscripts%2fcompress.js',
    '/_next/static/chunks/../../../src/web.js',
    '/_next/static/%00.js',
    '/_next/static/.hidden.css',
    '/_next/static/chunks/none.js?' + 'x'.repeat(2000),
  ])
    expect([path, (await get(path, { 'accept-encoding': 'br' })).status]).toEqual([path, 404]);
  // invalid addresses, and requests that no browser sends, are refused in words and are not errors
  // of ours
  for (const path of ['/_next/static/%E0%A4%A.js', '/jobs/%E0%A4%A', '/%'])
    expect([path, (await get(path, {})).status]).toEqual([path, 400]);
  const traced = await get('/jobs', {}, 'TRACE');
  expect([traced.status, traced.headers.allow]).toEqual([405, expect.stringContaining('GET')]);
  expect(traced.headers['permissions-policy']).toContain('camera=(self)');
  const secure = await get('/sign-in', { 'x-forwarded-proto': 'https' });
  expect(secure.headers['strict-transport-security']).toMatch(/^max-age=\d{8}/);
  expect((await get('/sign-in', {})).headers['strict-transport-security']).toBeUndefined();
  expect((await get('/api/health', {})).status).toBe(200);
});
