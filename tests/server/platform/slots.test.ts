import { afterEach, describe, expect, test } from 'vitest';
import { harmlessEnvironment } from '../../../src/server/platform/apart/surroundings';
import { bytesOf } from '../../../src/server/platform/bodies';
import { csvLines, plainCell } from '../../../src/server/platform/csv';
import { placeOf } from '../../../src/server/platform/place';
import { holdSlot, Slots } from '../../../src/server/platform/slots';

describe('slots', () => {
  test('one who asks has a share, all together have so many', () => {
    const slots = new Slots(3, 2);
    const [first, second] = [slots.take('a'), slots.take('a')];
    expect([first, second].every(Boolean)).toBe(true);
    expect(slots.take('a')).toBeUndefined();
    expect(slots.take('b')).toBeDefined();
    expect(slots.take('c')).toBeUndefined();
    second!.free();
    second!.free();
    expect(slots.take('c')).toBeDefined();
    expect(slots.take('a')).toBeUndefined();
    first!.free();
  });
  test('while a body is on its way its slot is free for others', async () => {
    const slots = new Slots(1, 1);
    let send: (text?: string) => void = () => undefined;
    const request = new Request('http://localhost/', {
      method: 'POST',
      body: new ReadableStream<Uint8Array>({
        start: (c) =>
          void (send = (text) =>
            text === undefined ? c.close() : c.enqueue(new TextEncoder().encode(text))),
      }),
      duplex: 'half',
    } as RequestInit);
    const slot = slots.take('slow')!;
    holdSlot(request, slot);
    const coming = bytesOf(request, 100, () => new Error('too much'));
    const other = slots.take('quick');
    expect(other).toBeDefined();
    other!.free();
    send('whole');
    send();
    expect((await coming).toString()).toBe('whole');
    expect(slots.take('another')).toBeUndefined();
    slot.free();
    expect(slots.take('another')).toBeDefined();
  });
});

describe('bodies', () => {
  const half = (place: string) =>
    new Request('http://localhost/', {
      method: 'POST',
      headers: { 'x-forwarded-for': place },
      body: new ReadableStream<Uint8Array>({
        start: (c) => c.enqueue(new Uint8Array([65])),
      }),
      duplex: 'half',
    } as RequestInit);
  const whole = (place: string) =>
    new Request('http://localhost/', {
      method: 'POST',
      headers: { 'x-forwarded-for': place },
      body: 'all of it',
    });
  const read = (request: Request) => bytesOf(request, 1000, () => new Error('too much'));
  test('150 half-sent ones keep nobody out, not even from the same place', async () => {
    const outcome = new Map<number, string>();
    for (let i = 0; i < 150; i++)
      read(half('192.0.2.7')).catch((error: Error) => outcome.set(i, error.message));
    expect((await read(whole('192.0.2.7'))).toString()).toBe('all of it');
    expect((await read(whole('198.51.100.1'))).toString()).toBe('all of it');
    // those that were on their way longest were given up
    await expect.poll(() => outcome.size).toBeGreaterThanOrEqual(50);
    expect(outcome.get(0)).toMatch(/took too long to arrive/);
    expect(outcome.has(149)).toBe(false);
  });
});

describe('the place that a request comes from', () => {
  afterEach(() => void delete process.env.HAND_STAMP_PROXIES);
  const from = (through: string) =>
    placeOf({ headers: new Headers(through ? { 'x-forwarded-for': through } : {}) });
  test('is what our own proxy says, not what stands before it', () => {
    expect(from('203.0.113.9, 192.0.2.1')).toBe('192.0.2.1');
    expect(from('')).toBe('here');
    process.env.HAND_STAMP_PROXIES = '2';
    expect(from('6.6.6.6, 203.0.113.9, 192.0.2.1')).toBe('203.0.113.9');
    expect(from('192.0.2.1')).toBe('192.0.2.1');
  });
  test('of IPv6 is the net, and IPv4 in IPv6 clothes is IPv4', () => {
    expect(from('2001:db8:1:2:3:4:5:6')).toBe(from('2001:db8:1:2:ffff::1'));
    expect(from('2001:db8:1:2::1')).not.toBe(from('2001:db8:1:3::1'));
    expect(from('::ffff:192.0.2.1')).toBe('192.0.2.1');
  });
});

describe('cells of a CSV file', () => {
  test('are no formulas', () => {
    for (const bad of ['=1+2', '@SUM(A1)', '+cmd|x', '-2+3+cmd', '\t=1', '＝1'])
      expect([bad, plainCell(bad)]).toEqual([bad, `'${bad}`]);
    for (const good of ['-5', '+44 1632 960 001', '-1,250.50', 'a=b', '', '07', 'x@y.example'])
      expect([good, plainCell(good)]).toEqual([good, good]);
    expect(csvLines([['=A1', 3, 'say "hi"']], { bom: true })).toBe(`\ufeff'=A1,3,"say ""hi"""\r\n`);
  });
});

test('a process that opens files of others knows neither key nor database', () => {
  const given = harmlessEnvironment({
    NODE_ENV: 'test',
    PATH: '/usr/bin',
    HAND_STAMP_KEY: 'k',
    DATABASE_URL: 'postgres://a:b@c/d',
    HAND_STAMP_METRICS_KEY: 'm',
    PGPASSWORD: 'p',
    HAND_STAMP_PROGRAMS: '/x',
  });
  expect(given).toEqual({ NODE_ENV: 'test', PATH: '/usr/bin', HAND_STAMP_PROGRAMS: '/x' });
});
