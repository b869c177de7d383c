import { render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { firstStamp, type Stamp } from '../../../src/core/payload/stamp';

/** Workers that were begun, each with what it was asked; a test says what becomes of it. */
const begun: FakeWorker[] = [];
class FakeWorker {
  readonly asked: { id: number; kind: string }[] = [];
  ended = false;
  onmessage?: (event: { data: object }) => void;
  onerror?: (event: { preventDefault(): void }) => void;
  constructor() {
    begun.push(this);
  }
  postMessage(message: { id: number; kind: string }) {
    this.asked.push(message);
  }
  terminate() {
    this.ended = true;
  }
  answer(result: object) {
    for (const { id } of this.asked.splice(0)) this.onmessage?.({ data: { id, result } });
  }
  die() {
    this.onerror?.({ preventDefault: () => undefined });
  }
}

const stamp: Stamp = firstStamp([{ id: 'c1', name: 'No', role: 'key' }]);
const image = { width: 1, height: 1, data: new Uint8ClampedArray(4) };
let client: typeof import('../../../src/ui/kit/core-client');
beforeEach(async () => {
  begun.length = 0;
  vi.stubGlobal('Worker', FakeWorker);
  vi.resetModules();
  client = await import('../../../src/ui/kit/core-client');
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

test('whoever waits for a worker that dies is told, and the next who asks gets another', async () => {
  const both = [client.scanAll(image), client.scanAll(image)];
  const told = Promise.allSettled(both);
  begun[0]!.die();
  for (const one of await told)
    expect(one).toMatchObject({
      status: 'rejected',
      reason: { message: expect.stringContaining('begins anew by itself') as string },
    });
  expect(begun[0]!.ended).toBe(true);
  const again = client.scanAll(image);
  expect(begun).toHaveLength(2);
  begun[1]!.answer([]);
  expect(await again).toEqual([]);
});

test('an answer that comes late, from a worker that was given up, is nobody’s', async () => {
  const first = client.scanAll(image);
  const [worker] = begun;
  const late = [...worker!.asked];
  const told = expect(first).rejects.toThrow('stopped');
  worker!.die();
  await told;
  const second = client.scanAll(image);
  for (const { id } of late) worker!.onmessage?.({ data: { id, result: ['not asked for'] } });
  begun[1]!.answer([]);
  expect(await second).toEqual([]);
});

function Code({ values }: { values: Record<string, string> }) {
  const code = client.useCode(stamp, values);
  return <p>{code === undefined ? 'being drawn' : code === null ? 'none' : 'drawn'}</p>;
}

test('a code whose worker died while it was drawn is drawn by the next one', async () => {
  render(<Code values={{ c1: 'A-1' }} />);
  expect(screen.getByText('being drawn')).toBeTruthy();
  begun[0]!.die();
  await waitFor(() => expect(begun).toHaveLength(2), { timeout: 5000 });
  begun[1]!.answer({ svg: '' });
  expect(await screen.findByText('drawn')).toBeTruthy();
});

test('what cannot be drawn is tried three times, and then said once', async () => {
  vi.useFakeTimers();
  const said = vi.spyOn(console, 'error').mockImplementation(() => undefined);
  render(<Code values={{ c1: 'A-2' }} />);
  for (let i = 0; i < 3; i++) {
    expect(begun).toHaveLength(i + 1);
    begun[i]!.die();
    await vi.advanceTimersByTimeAsync(10_000);
  }
  expect(begun).toHaveLength(3);
  expect(said).toHaveBeenCalledTimes(1);
  vi.useRealTimers();
});
