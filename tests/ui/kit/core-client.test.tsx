import { cleanup, render, screen, waitFor } from '@testing-library/react';
import { expose } from 'comlink';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import type { Piece } from '../../../src/core/piece/model';

/** What a worker was asked, until a test answers it. */
interface Asked {
  what: string;
  with: unknown[];
  answer(result: unknown): void;
  refuse(error: Error): void;
}

/** Workers that were begun, each with what it was asked; a test says what becomes of it. */
const begun: FakeWorker[] = [];
class FakeWorker {
  readonly asked: Asked[] = [];
  ended = false;
  onerror?: (event: { preventDefault(): void }) => void;
  private readonly channel = new MessageChannel();
  constructor() {
    begun.push(this);
    const takes =
      (what: string) =>
      (...given: unknown[]) =>
        new Promise((answer, refuse) => this.asked.push({ what, with: given, answer, refuse }));
    expose(
      Object.fromEntries(['code', 'piece', 'scan', 'scanAll', 'read'].map((w) => [w, takes(w)])),
      this.channel.port1,
    );
    this.channel.port2.start();
  }
  postMessage(message: unknown) {
    this.channel.port2.postMessage(message);
  }
  addEventListener(type: string, listener: EventListener) {
    this.channel.port2.addEventListener(type, listener);
  }
  removeEventListener(type: string, listener: EventListener) {
    this.channel.port2.removeEventListener(type, listener);
  }
  terminate() {
    this.ended = true;
  }
  /** What it is asked next. */
  async next(): Promise<Asked> {
    await waitFor(() => expect(this.asked.length).toBeGreaterThan(0));
    return this.asked.shift()!;
  }
  die() {
    this.onerror?.({ preventDefault: () => undefined });
  }
  close() {
    this.channel.port1.close();
    this.channel.port2.close();
  }
}

/** The worker that was begun at this place, once it is. */
async function theWorker(at = 0): Promise<FakeWorker> {
  await waitFor(() => expect(begun.length).toBeGreaterThan(at));
  return begun[at]!;
}

const stamp: Stamp = firstStamp([{ id: 'c1', name: 'No', role: 'key' }]);
const image = { grey: new Uint8Array(1), width: 1, height: 1 };
let client: typeof import('../../../src/ui/kit/core-client');
beforeEach(async () => {
  begun.length = 0;
  vi.stubGlobal('Worker', FakeWorker);
  vi.resetModules();
  client = await import('../../../src/ui/kit/core-client');
});
afterEach(() => {
  cleanup();
  begun.forEach((worker) => worker.close());
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe('what is asked of the worker', () => {
  test('is answered, each by its own answer, in whatever order they come', async () => {
    const first = client.scanAll(image);
    const second = client.scanAll(image);
    const [one, two] = [await (await theWorker()).next(), await (await theWorker()).next()];
    two.answer(['second']);
    one.answer(['first']);
    expect(await Promise.all([first, second])).toEqual([['first'], ['second']]);
    expect(begun).toHaveLength(1);
  });

  test('comes to nothing in the words in which it came to nothing there', async () => {
    const told = expect(client.scanImage(image)).rejects.toThrow('The picture cannot be read.');
    (await (await theWorker()).next()).refuse(new Error('The picture cannot be read.'));
    await told;
    // and the worker goes on
    const again = client.scanImage(image);
    (await (await theWorker()).next()).answer(null);
    expect(await again).toBeNull();
  });

  test('of a worker that dies is told, and the next who asks gets another', async () => {
    const both = [client.scanAll(image), client.scanAll(image)];
    const told = Promise.allSettled(both);
    begun[0]!.die();
    for (const one of await told)
      expect(one).toMatchObject({
        status: 'rejected',
        reason: { message: expect.stringContaining('is restarting') as string },
      });
    expect(begun[0]!.ended).toBe(true);
    const again = client.scanAll(image);
    expect(begun).toHaveLength(2);
    (await (await theWorker(1)).next()).answer([]);
    expect(await again).toEqual([]);
  });

  test('and answered late, by a worker that was given up, is nobody’s', async () => {
    const first = client.scanAll(image);
    const [worker] = begun;
    const late = await worker!.next();
    const told = expect(first).rejects.toThrow('stopped');
    worker!.die();
    await told;
    const second = client.scanAll(image);
    late.answer(['not asked for']);
    (await (await theWorker(1)).next()).answer([]);
    expect(await second).toEqual([]);
    // a worker that dies once more when it is gone already takes no other with it
    worker!.die();
    const third = client.scanAll(image);
    expect(begun).toHaveLength(2);
    (await (await theWorker(1)).next()).answer([]);
    expect(await third).toEqual([]);
  });
});

function Code({ values }: { values: Record<string, string> | undefined }) {
  const code = client.useCode(stamp, values);
  return <p>{code === undefined ? 'being drawn' : code === null ? 'none' : 'drawn'}</p>;
}

describe('a code', () => {
  test('is drawn once for all who show it, and is there at once for the next', async () => {
    const { unmount } = render(
      <>
        <Code values={{ c1: 'A-1', c2: 'x' }} />
        <Code values={{ c1: 'A-1', c2: 'not in the code' }} />
      </>,
    );
    (await (await theWorker()).next()).answer({ svg: '' });
    expect(await screen.findAllByText('drawn')).toHaveLength(2);
    expect(begun[0]!.asked).toEqual([]);
    unmount();
    render(<Code values={{ c1: 'A-1' }} />);
    expect(screen.getByText('drawn')).toBeTruthy();
    expect(begun[0]!.asked).toEqual([]);
  });

  test('of a record that has none is none, and nothing is drawn of no record', async () => {
    render(<Code values={undefined} />);
    expect(begun).toEqual([]);
    cleanup();
    render(<Code values={{ c1: '' }} />);
    (await (await theWorker()).next()).answer(undefined);
    expect(await screen.findByText('none')).toBeTruthy();
  });

  test('whose worker died while it was drawn is drawn by the next one', async () => {
    render(<Code values={{ c1: 'A-1' }} />);
    await waitFor(() => expect(begun).toHaveLength(1));
    begun[0]!.die();
    await waitFor(() => expect(begun).toHaveLength(2), { timeout: 5000 });
    (await (await theWorker(1)).next()).answer({ svg: '' });
    expect(await screen.findByText('drawn')).toBeTruthy();
  });

  test('that cannot be drawn is tried three times, and then said once', async () => {
    vi.useFakeTimers();
    const said = vi.spyOn(console, 'error').mockImplementation(() => undefined);
    render(<Code values={{ c1: 'A-2' }} />);
    for (let i = 0; i < 3; i++) {
      await vi.advanceTimersByTimeAsync(10);
      expect(begun).toHaveLength(i + 1);
      begun[i]!.die();
      await vi.advanceTimersByTimeAsync(10_000);
    }
    expect(begun).toHaveLength(3);
    expect(said).toHaveBeenCalledTimes(1);
    vi.useRealTimers();
  });

  test('that nobody shows any more is not drawn: what was scrolled past waits for nothing', async () => {
    function Many({ from }: { from: number }) {
      return Array.from({ length: 100 }, (_, i) => (
        <Code key={from + i} values={{ c1: `A-${from + i}` }} />
      ));
    }
    const { rerender } = render(<Many from={0} />);
    const worker = await theWorker();
    const keyOf = ({ with: [, values] }: Asked) => (values as { c1: string }).c1;
    await waitFor(() => expect(worker.asked).toHaveLength(64));
    // the list is scrolled away before the worker came to the others
    rerender(<Many from={1000} />);
    const first = worker.asked.splice(0);
    expect(first.map(keyOf)).toContain('A-0');
    first.forEach((asked) => asked.answer({ svg: '' }));
    await waitFor(() => expect(worker.asked).toHaveLength(64));
    expect(worker.asked.map(keyOf).filter((key) => key.length < 'A-1000'.length)).toEqual([]);
    worker.asked.splice(0).forEach((asked) => asked.answer({ svg: '' }));
    await waitFor(() => expect(worker.asked).toHaveLength(36));
    worker.asked.splice(0).forEach((asked) => asked.answer({ svg: '' }));
    await waitFor(() => expect(screen.getAllByText('drawn')).toHaveLength(100));
  });
});

const piece: Piece = { stock: 'a4-sign', elements: [] };
const stamps = [stamp];
const values = { c1: 'A-1' };

function Laid() {
  const picture = client.usePiece(piece, stamps, values);
  return <p>{picture ? picture.svg : 'being laid out'}</p>;
}

test('a piece is laid out anew when its pictures have come, and stays until it is', async () => {
  render(<Laid />);
  (await (await theWorker()).next()).answer({ svg: 'without its picture' });
  expect(await screen.findByText('without its picture')).toBeTruthy();
  client.forgetPieces();
  const again = await (await theWorker()).next();
  expect(screen.getByText('without its picture')).toBeTruthy();
  again.answer({ svg: 'with its picture' });
  expect(await screen.findByText('with its picture')).toBeTruthy();
});

function Live({ first }: { first: Piece }) {
  const [now, setNow] = useState<Piece | undefined>(first);
  const picture = client.useLivePiece(now, stamps, values, 'front', 1);
  return (
    <>
      <p>{picture ? picture.svg : 'nothing live'}</p>
      {[1, 2, 3].map((n) => (
        <button key={n} onClick={() => setNow({ ...first, gap: n } as Piece)}>
          {n}
        </button>
      ))}
      <button onClick={() => setNow(undefined)}>let go</button>
    </>
  );
}

test('of what is being pulled only the newest is drawn, and the last stays until it is', async () => {
  render(<Live first={piece} />);
  const asked = await (await theWorker()).next();
  for (const n of ['1', '2', '3']) screen.getByText(n).click();
  expect(begun[0]!.asked).toEqual([]);
  asked.answer({ svg: 'as it was' });
  expect(await screen.findByText('as it was')).toBeTruthy();
  const newest = await (await theWorker()).next();
  expect((newest.with[0] as { piece: { gap: number } }).piece.gap).toBe(3);
  newest.answer({ svg: 'as it is' });
  expect(await screen.findByText('as it is')).toBeTruthy();
  expect(begun[0]!.asked).toEqual([]);
  screen.getByText('let go').click();
  expect(await screen.findByText('nothing live')).toBeTruthy();
});
