import { afterEach, expect, test, vi } from 'vitest';
import { ApiError, ask, signedOutEvent } from '../../../src/contract/client';

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
  expect([error.status, error.message]).toEqual([502, 'Something went wrong; try it again.']);
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
