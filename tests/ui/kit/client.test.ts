import { afterEach, expect, test, vi } from 'vitest';
import { addressTo, ApiError, ask, send, signedOutEvent } from '../../../src/contract/client';

const answers = (answer: () => Promise<Response>) => vi.stubGlobal('fetch', vi.fn(answer));
afterEach(() => vi.unstubAllGlobals());
const errorOf = (asked: Promise<unknown>): Promise<ApiError> =>
  asked.then(
    () => {
      throw new Error('it was answered');
    },
    (error: unknown) => error as ApiError,
  );

test('a server that does not answer is told in words, and not as an error of the browser', async () => {
  answers(() => Promise.reject(new TypeError('Failed to fetch')));
  const error = await errorOf(ask('listLists'));
  expect(error).toBeInstanceOf(ApiError);
  expect(error.status).toBe(0);
  expect(error.message).toContain('does not answer');
});

test('an error carries the server’s own words, and the number under which it stands in the log', async () => {
  answers(() =>
    Promise.resolve(
      Response.json({ error: 'It broke.', request: 'q-17', both: [1] }, { status: 500 }),
    ),
  );
  const error = await errorOf(ask('listLists'));
  expect(error.message).toBe('It broke. (number q-17)');
  expect(error.details.both).toEqual([1]);
});

test('an answer that is no JSON, as of a proxy between, is told in words', async () => {
  answers(() => Promise.resolve(new Response('<h1>Bad gateway</h1>', { status: 502 })));
  const error = await errorOf(ask('listLists'));
  expect([error.status, error.message]).toEqual([502, 'Something went wrong. Try again.']);
});

test('whoever is not known any more is told to the window', async () => {
  answers(() => Promise.resolve(Response.json({ error: 'Sign in.' }, { status: 401 })));
  const heard = vi.fn();
  window.addEventListener(signedOutEvent, heard);
  await errorOf(ask('removeList', { params: { id: 4 } }));
  window.removeEventListener(signedOutEvent, heard);
  expect(heard).toHaveBeenCalledTimes(1);
});

test('what is not wanted any more ends as that, and not as an error', async () => {
  vi.stubGlobal(
    'fetch',
    (_: string, { signal }: RequestInit) =>
      new Promise((_resolve, reject) => {
        signal!.addEventListener('abort', () => reject(new DOMException('left', 'AbortError')));
      }),
  );
  const leaving = new AbortController();
  const asked = errorOf(ask('listLists', {}, { signal: leaving.signal }));
  leaving.abort();
  const error = await asked;
  expect(error).toBeInstanceOf(DOMException);
  expect(error).not.toBeInstanceOf(ApiError);
});

/** A request, as the browser would send it. */
function sending() {
  const sent: { address: string; request: RequestInit }[] = [];
  vi.stubGlobal('fetch', (address: string, request: RequestInit) => {
    sent.push({ address, request });
    return Promise.resolve(Response.json({ ok: true }));
  });
  return sent;
}

test('a route is found by its name, whatever stands in its open parts', async () => {
  const sent = sending();
  await ask('endKey', { params: { id: 7 } });
  await ask('viewJournal', { query: { q: 'Odd & Ida', from: undefined, until: '' } });
  await ask('jobRows', { params: { id: 9 }, query: { offset: 100 } });
  expect(sent.map(({ address, request }) => `${request.method} ${address}`)).toEqual([
    'DELETE /api/keys/7',
    'GET /api/journal?q=Odd+%26+Ida',
    'GET /api/jobs/9/rows?offset=100',
  ]);
  // nothing climbs out of its place
  expect(addressTo('codePicture', { params: { name: '../../etc/a b.png' } })).toBe(
    '/c/..%2F..%2Fetc%2Fa%20b.png',
  );
});

test('a device says that it is one, beside what it asks', async () => {
  const sent = sending();
  await ask('checkpointPack', { params: { id: 2 } }, { device: true });
  expect(sent[0]!.address).toBe('/api/checkpoints/2/pack?as=device');
});

test('a change reaches the server when its page is left, as long as browsers take it', async () => {
  const sent = sending();
  await ask('changeSettings', { body: { doorPrivate: true } });
  await ask('invite', {
    body: {
      email: 'ida@marrambay.example',
      name: 'x'.repeat(30_000),
      right: 'viewer',
      mail: false,
    },
  });
  await ask('listLists');
  expect(sent.map(({ request }) => request.keepalive)).toEqual([true, false, false]);
  expect(sent[0]!.request.body).toBe('{"doorPrivate":true}');
  expect(sent[2]!.request.body).toBeUndefined();
});

test('a file is sent under its name in every script', async () => {
  const sent = sending();
  await send('addListPicture', new Blob(['x']), 'Σοφία 桂子.png', {
    params: { id: 4 },
    query: { last: 'yes' },
  });
  const [{ address, request }] = sent as [(typeof sent)[number]];
  expect(address).toBe('/api/lists/4/pictures?last=yes');
  const { 'x-file-name': name, 'content-type': type } = request.headers as Record<string, string>;
  expect([decodeURIComponent(name!), type]).toEqual(['Σοφία 桂子.png', 'application/octet-stream']);
});
