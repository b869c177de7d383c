import { act, renderHook, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { ScanAnswer, ScanGiven } from '../../../src/contract';
import { codeHash, type Pack } from '../../../src/core/checkpoint/offline';
import { useStation } from '../../../src/ui/features/checkpoint/use-station';
import { answering, Refused, type Asked } from '../../helpers/answers';

/** What a browser keeps of a device, in its order. */
const kept = vi.hoisted(() => ({ scans: [] as ScanGiven[], pack: undefined as Pack | undefined }));
vi.mock('../../../src/ui/features/checkpoint/outbox', () => ({
  keepScan: (_: number, scan: ScanGiven) => Promise.resolve(void kept.scans.push(scan)),
  waitingScans: () => Promise.resolve([...kept.scans]),
  forgetScans: (keys: readonly string[]) =>
    Promise.resolve(void (kept.scans = kept.scans.filter((scan) => !keys.includes(scan.key)))),
  keepPack: (_: number, pack: Pack) => Promise.resolve(void (kept.pack = pack)),
  keptPack: () => Promise.resolve(kept.pack),
  forgetPack: () => Promise.resolve(void (kept.pack = undefined)),
}));
vi.mock('../../../src/ui/features/checkpoint/shapes', () => ({ playAnswer: vi.fn() }));

/** News of the checkpoint, sent by a test. */
let news: { onmessage?: () => void; close: () => void }[] = [];
beforeEach(() => {
  kept.scans = [];
  kept.pack = undefined;
  news = [];
  vi.stubGlobal(
    'EventSource',
    class {
      onmessage?: () => void;
      close = () => void (news = news.filter((one) => one !== this));
      constructor() {
        news.push(this);
      }
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

const salt = 'c2FsdA';
const pack = (more: Partial<Pack> = {}): Pack => ({
  salt,
  name: 'Gate',
  rule: { often: 'once', session: { kind: 'none' }, opens: null, ends: null },
  records: [
    {
      title: 'Ines Rowe',
      shown: [['Team', 'Tide pools']],
      codes: [codeHash(salt, 'DH-0001')],
      passes: [],
    },
  ],
  signed: [],
  made: Date.now(),
  ...more,
});
const state = (twice: number[] = []) => ({
  ...{ film: false, name: 'Gate', device: 'Tablet 1', ends: null, session: null, sessions: [] },
  ...{ in: 0, of: 1, now: Date.now(), version: 1 },
  twice: twice.map((id) => ({
    ...{ id, title: 'Ines Rowe', at: '2026-11-23T09:00:00.000Z' },
    other: { at: '2026-11-23T09:01:00.000Z', who: 'Tablet 2', where: 'Back door' },
  })),
});
const answerTo = (scan: ScanGiven): ScanAnswer => ({
  ...{ key: scan.key, id: 1, at: '2026-11-23T09:00:00.000Z', answer: 'comes-in', why: '' },
  ...{ title: `of ${scan.text}`, recordKey: 'DH-0001', shown: [], session: null, differs: '' },
  ...{ twice: null, wrap: null },
});
const scansOf = (asked: readonly Asked[]) =>
  asked
    .filter((one) => one.route === 'scanCodes')
    .map((one) => one.body as { scans: ScanGiven[]; waiting?: number });

/** A scanning screen; `away` is whether the server cannot be reached. */
async function station({ tooLong = false }: { tooLong?: boolean } = {}) {
  const net = { away: false, twice: [] as number[], refuse: undefined as Refused | undefined };
  const or = <T,>(answer: () => T): T | Refused =>
    net.away ? new Refused(503, 'Nobody is here.') : (net.refuse ?? answer());
  const asked = answering({
    checkpointState: () => or(() => state(net.twice)),
    checkpointPack: () =>
      tooLong ? new Refused(413, 'This list is too long for a device.') : or(() => pack()),
    scanCodes: ({ body }) =>
      or(() => ({ answers: (body as { scans: ScanGiven[] }).scans.map(answerTo) })),
    takeBackScan: () => or(() => ({ ok: true as const })),
  });
  const { result, unmount } = renderHook(() => useStation(3, true));
  await waitFor(() => {
    expect(result.current.state).toBeDefined();
    expect(asked.map((one) => one.route)).toContain('checkpointPack');
  });
  if (!tooLong) await waitFor(() => expect(kept.pack).toBeDefined());
  const scan = (text: string) => act(() => result.current.scan({ how: 'camera', text }));
  return { net, asked, scan, now: () => result.current, unmount };
}

test('a scan is answered, and what the device held for others is asked for once', async () => {
  const { asked, scan, now } = await station();
  await scan('DH-0001');
  expect(now().outcome).toMatchObject({ answer: 'comes-in', title: 'of DH-0001', apart: false });
  expect(now()).toMatchObject({ apart: false, waiting: 0, busy: false });
  expect(asked.filter((one) => one.route === 'checkpointPack')).toHaveLength(1);
  // a device asks as itself, even if a person is signed in
  expect(asked.every((one) => one.query.as === 'device')).toBe(true);
});

test('without a network it answers by itself, and hands over in order when somebody is there', async () => {
  const { net, asked, scan, now } = await station();
  net.away = true;
  await scan('DH-0001');
  expect(now().outcome).toMatchObject({ answer: 'comes-in', title: 'Ines Rowe', apart: true });
  expect(now().outcome!.shown).toEqual([['Team', 'Tide pools']]);
  await scan('DH-0001');
  expect(now().outcome!.answer).toBe('was-here');
  await scan('DH-0009');
  expect(now().outcome).toMatchObject({ answer: 'not-certain', title: '' });
  expect(now()).toMatchObject({ apart: true, waiting: 3 });
  net.away = false;
  await scan('DH-0002');
  const [lot, last] = scansOf(asked).slice(-2);
  expect(lot!.scans.map((one) => [one.text, one.apart?.answer])).toEqual([
    ['DH-0001', 'comes-in'],
    ['DH-0001', 'was-here'],
    ['DH-0009', 'not-certain'],
  ]);
  expect(last!.scans.map((one) => one.text)).toEqual(['DH-0002']);
  expect(now()).toMatchObject({ apart: false, waiting: 0 });
  expect(kept.scans).toEqual([]);
});

test('what waits is handed over a hundred at a time, each time with how many are left', async () => {
  kept.scans = Array.from({ length: 230 }, (_, i) => ({
    key: crypto.randomUUID(),
    how: 'camera' as const,
    text: `DH-${i}`,
    apart: { at: i, answer: 'not-certain' as const, why: '' },
  }));
  const { asked, now } = await station();
  await waitFor(() => expect(now().waiting).toBe(0));
  expect(scansOf(asked).map((one) => [one.scans.length, one.waiting])).toEqual([
    [100, 130],
    [100, 30],
    [30, 0],
  ]);
});

test('a device whose list is too long to be held is answered, and certain of nothing by itself', async () => {
  const { net, scan, now } = await station({ tooLong: true });
  await scan('DH-0001');
  expect(now()).toMatchObject({ apart: false, outcome: { answer: 'comes-in' } });
  net.away = true;
  await scan('DH-0001');
  expect(now().outcome).toMatchObject({
    answer: 'not-certain',
    why: 'this device has no list yet',
    apart: true,
  });
  // for an entry by hand, a person has looked
  await act(() => now().scan({ how: 'hand', record: 4, title: 'Tam Reed', reason: 'no badge' }));
  expect(now().outcome).toMatchObject({ answer: 'comes-in', title: 'Tam Reed', why: '' });
  expect(kept.scans.at(-1)).toMatchObject({ how: 'hand', record: 4, reason: 'no badge' });
});

test('one that is shut out says so, shows no answer, and forgets what it held', async () => {
  const { net, scan, now } = await station();
  net.refuse = new Refused(401, 'This device was signed out.');
  await scan('DH-0001');
  expect(now().shut).toBe('This device was signed out.');
  expect(now().outcome).toBeUndefined();
  expect(kept.pack).toBeUndefined();
  expect(kept.scans).toEqual([]);
});

test('a scan that is refused in words is no scan without a network', async () => {
  const { net, scan, now } = await station();
  net.refuse = new Refused(409, 'This checkpoint is closed.');
  await scan('DH-0001');
  expect(now()).toMatchObject({ trouble: 'This checkpoint is closed.', apart: false, waiting: 0 });
  net.refuse = undefined;
  await scan('DH-0001');
  expect(now().trouble).toBeUndefined();
});

test('scans are answered one after the other, as they came', async () => {
  const { asked, now } = await station();
  await act(async () => {
    const all = ['a', 'b', 'c'].map((text) => now().scan({ how: 'camera', text }));
    await Promise.all(all);
  });
  expect(scansOf(asked).map((one) => one.scans[0]!.text)).toEqual(['a', 'b', 'c']);
  expect(now().outcome!.text).toBe('c');
});

test('a scan is taken back once; one that waits is handed over before, and not without a network', async () => {
  const { net, asked, scan, now } = await station();
  net.away = true;
  await scan('DH-0001');
  await act(() => now().takeBack());
  expect(now().trouble).toBe(
    'You are offline, so scans cannot be undone. Try again when you are online.',
  );
  expect(now().outcome!.back).toBeUndefined();
  net.away = false;
  await act(() => now().takeBack());
  await act(() => now().takeBack());
  expect(now().outcome!.back).toBe(true);
  const order = asked.map((one) => one.route);
  const backs = asked.filter((one) => one.route === 'takeBackScan');
  expect(backs.map((one) => (one.body as { scan: string }).scan)).toEqual([now().outcome!.key]);
  expect(order.lastIndexOf('scanCodes')).toBeLessThan(order.indexOf('takeBackScan'));
});

test('what came in twice while devices were apart is told of until it was seen', async () => {
  const { net, asked, now, unmount } = await station();
  await waitFor(() => expect(now().state).toBeDefined());
  net.twice = [7, 8];
  act(() => news[0]!.onmessage!());
  await waitFor(() => expect(now().state!.twice.map((one) => one.id)).toEqual([7, 8]));
  act(() => now().seen(7));
  act(() => news[0]!.onmessage!());
  // they come once, however often it is looked
  const looks = () => asked.filter((one) => one.route === 'checkpointState');
  await waitFor(() => expect(looks().at(-1)!.query.after).toBe('8'));
  expect(now().state!.twice.map((one) => one.id)).toEqual([8]);
  unmount();
  expect(news).toEqual([]);
});
