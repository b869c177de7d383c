import { cleanup, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { PageError } from '../../../src/ui/kit/page-error';

const refresh = vi.fn();
vi.mock('next/navigation', () => ({ useRouter: () => ({ refresh }) }));
const reload = vi.fn();
const there = vi.fn<() => Promise<Response>>();

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('location', { reload });
  vi.stubGlobal('fetch', there);
  sessionStorage.clear();
  there.mockImplementation(() => Promise.resolve(Response.json({ ok: true })));
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.clearAllMocks();
});
const shown = (name: string) => {
  const reset = vi.fn();
  render(<PageError error={Object.assign(new Error('x'), { name })} reset={reset} />);
  return reset;
};

test('a page that could not be made is tried again by itself, and the window stays', async () => {
  const reset = shown('Error');
  expect(screen.getByText(/database is probably restarting/)).toBeTruthy();
  await vi.advanceTimersByTimeAsync(7000);
  expect(reset).toHaveBeenCalledTimes(2);
  expect(refresh).toHaveBeenCalledTimes(2);
  expect(reload).not.toHaveBeenCalled();
});

test('where a part of the program is gone, the window begins anew, once the server is there', async () => {
  there.mockImplementation(() => Promise.reject(new TypeError('Failed to fetch')));
  const reset = shown('ChunkLoadError');
  expect(screen.getByText(/was updated while this window was open/)).toBeTruthy();
  await vi.advanceTimersByTimeAsync(10_000);
  expect(reload).not.toHaveBeenCalled();
  there.mockImplementation(() => Promise.resolve(Response.json({ ok: true })));
  await vi.advanceTimersByTimeAsync(4000);
  expect(reload).toHaveBeenCalledTimes(1);
  expect(reset).not.toHaveBeenCalled();
});

test('a window that beginning anew does not help is not begun anew for ever', async () => {
  shown('ChunkLoadError');
  await vi.advanceTimersByTimeAsync(30_000);
  expect(reload).toHaveBeenCalledTimes(1);
  // it comes up again with the same error
  cleanup();
  shown('ChunkLoadError');
  await vi.advanceTimersByTimeAsync(20_000);
  expect(reload).toHaveBeenCalledTimes(1);
  await vi.advanceTimersByTimeAsync(60_000);
  expect(reload).toHaveBeenCalledTimes(2);
});
