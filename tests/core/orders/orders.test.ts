import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { chainOf, deepest, folded, mayStart, type Change } from '../../../src/core/orders/chain';
import {
  asked,
  conditionsSchema,
  type Condition,
  type Subject,
} from '../../../src/core/orders/conditions';
import {
  isZone,
  nextAfter,
  saysSchedule,
  scheduleSchema,
  type Schedule,
} from '../../../src/core/orders/schedule';
import type { Column } from '../../../src/core/records/columns';

/** A moment as a clock in a zone shows it: the witness is the browser's own table of zones. */
const wall = (time: number, zone: string) => {
  const parts = new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    weekday: 'short',
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  }).formatToParts(time);
  const of = (type: string) => parts.find((part) => part.type === type)!.value;
  return {
    date: `${of('year')}-${of('month')}-${of('day')}`,
    day: ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'].indexOf(of('weekday')) + 1,
    time: `${of('hour')}:${of('minute')}`,
  };
};
const zones = ['Europe/Berlin', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kolkata', 'UTC'];
const from = Date.UTC(2026, 0, 1);
const moments = fc.integer({ min: from, max: Date.UTC(2028, 0, 1) });
const times = fc
  .tuple(fc.integer({ min: 0, max: 23 }), fc.integer({ min: 0, max: 59 }))
  .map((pair) => pair.map((n) => String(n).padStart(2, '0')).join(':'));

describe('a schedule', () => {
  test('again and again comes at every full step of the clock', () => {
    const every = (minutes: 1 | 15 | 60) =>
      new Date(
        nextAfter(
          { kind: 'every', minutes, at: '07:30', zone: 'UTC' },
          Date.parse('2026-11-23T07:29:30Z'),
        ),
      ).toISOString();
    expect(every(1)).toBe('2026-11-23T07:30:00.000Z');
    expect(every(15)).toBe('2026-11-23T07:30:00.000Z');
    expect(every(60)).toBe('2026-11-23T08:00:00.000Z');
    expect(nextAfter({ kind: 'every', minutes: 1, at: '07:30', zone: 'UTC' }, 60_000)).toBe(
      120_000,
    );
  });
  test('comes to the next of its days, at its time by the clock on the wall', () => {
    fc.assert(
      fc.property(
        moments,
        times,
        fc.constantFrom(...zones),
        fc.subarray([1, 2, 3, 4, 5, 6, 7], { minLength: 1 }),
        (after, at, zone, days) => {
          const next = nextAfter({ kind: 'days', days, at, zone }, after);
          expect(next).toBeGreaterThan(after);
          const shown = wall(next, zone);
          expect(days).toContain(shown.day);
          // but for the night on which the clock is put forward over it
          if (shown.time !== at) {
            const before = wall(next - 3 * 3_600_000, zone);
            const [h, m] = at.split(':').map(Number) as [number, number];
            const [sh, sm] = shown.time.split(':').map(Number) as [number, number];
            expect([30, 60]).toContain(sh * 60 + sm - h * 60 - m);
            expect(before.date <= shown.date).toBe(true);
          }
          // no day between is passed over
          const skipped = [];
          for (let t = after + 86_400_000; t < next - 86_400_000; t += 86_400_000)
            if (days.includes(wall(t, zone).day)) skipped.push(wall(t, zone).date);
          expect(skipped).toEqual([]);
        },
      ),
    );
  });

  test('comes once a day, also where the clock is put back over it', () => {
    const daily: Schedule = {
      kind: 'days',
      days: [1, 2, 3, 4, 5, 6, 7],
      at: '02:30',
      zone: 'Europe/Berlin',
    };
    const all: number[] = [];
    for (let t = Date.UTC(2026, 2, 27); all.length < 250;) all.push((t = nextAfter(daily, t)));
    const dates = all.map((t) => wall(t, daily.zone).date);
    expect(new Set(dates).size).toBe(dates.length);
    // on 29 March, half past two does not exist
    expect(wall(all[dates.indexOf('2026-03-29')]!, daily.zone).time).toBe('03:30');
    // on 25 October there are two, and the first is meant
    const october = all[dates.indexOf('2026-10-25')]!;
    expect(new Date(october).toISOString()).toBe('2026-10-25T00:30:00.000Z');
  });

  test('finds the n-th weekday of a month, and the last', () => {
    const third: Schedule = { kind: 'month', nth: 3, day: 5, at: '09:00', zone: 'UTC' };
    expect(new Date(nextAfter(third, Date.UTC(2026, 10, 1))).toISOString()).toBe(
      '2026-11-20T09:00:00.000Z',
    );
    const last: Schedule = { ...third, nth: 0 };
    const fridays = [];
    for (let t = from; fridays.length < 4;)
      fridays.push(new Date((t = nextAfter(last, t))).toISOString().slice(0, 10));
    expect(fridays).toEqual(['2026-01-30', '2026-02-27', '2026-03-27', '2026-04-24']);
  });

  test('reads aloud, and takes no zone or time that does not exist', () => {
    const at = { at: '07:30', zone: 'Europe/Berlin' };
    expect(saysSchedule({ kind: 'days', days: [5], ...at })).toBe('every Friday at 07:30');
    expect(saysSchedule({ kind: 'days', days: [3, 1], ...at })).toBe(
      'every Monday and Wednesday at 07:30',
    );
    expect(saysSchedule({ kind: 'days', days: [1, 2, 3, 4, 5], ...at })).toBe(
      'from Monday to Friday at 07:30',
    );
    expect(saysSchedule({ kind: 'days', days: [7, 6, 5, 4, 3, 2, 1], ...at })).toBe(
      'every day at 07:30',
    );
    expect(saysSchedule({ kind: 'month', nth: 0, day: 7, ...at })).toBe(
      'on the last Sunday of every month at 07:30',
    );
    expect(isZone('Mars/Olympus')).toBe(false);
    const parsed = (schedule: unknown) => scheduleSchema.safeParse(schedule).success;
    expect(parsed({ kind: 'days', days: [1], ...at })).toBe(true);
    expect(parsed({ kind: 'days', days: [1], ...at, zone: 'Mars/Olympus' })).toBe(false);
    expect(parsed({ kind: 'days', days: [1], ...at, at: '24:00' })).toBe(false);
    expect(parsed({ kind: 'days', days: [], ...at })).toBe(false);
  });
});

describe('conditions', () => {
  const columns = [
    { id: 'c1', name: 'Bed', role: 'text' },
    { id: 'c2', name: 'Planted', role: 'text' },
    { id: 'c3', name: 'Count', role: 'text' },
  ] satisfies Column[];
  const subject = (change: Partial<Subject> = {}): Subject => ({
    values: { c1: ' Long Border ', c2: '2026-03-04', c3: '12' },
    columns,
    done: false,
    fits: true,
    record: true,
    ...change,
  });
  const column = (id: string, is: string, value = ''): Condition =>
    ({ of: 'column', column: id, is, value }) as Condition;
  const one = (condition: Condition, of = subject()) =>
    asked({ all: true, list: [condition] }, of).each[0]!;

  test.each([
    ['c1', 'is', 'long border', true],
    ['c1', 'is', 'Rockery', false],
    ['c1', 'is-not', 'Rockery', true],
    ['c1', 'blank', '', false],
    ['c1', 'filled', '', true],
    ['c1', 'begins', 'LONG', true],
    ['c1', 'ends', 'der', true],
    ['c1', 'contains', 'bord', true],
    ['c2', 'before', '2026-10-01', true],
    ['c2', 'more', '2026-10-01', false],
    ['c3', 'more', '9', true],
    ['c3', 'before', '100', true],
    ['c3', 'more', 'nine', false],
    ['c1', 'before', 'nine', false],
  ])('%s %s %s', (id, is, value, holds) => {
    expect(one(column(id, is, value)).holds).toBe(holds);
  });

  test('say why they do not hold, in the words of the list', () => {
    expect(one(column('c1', 'is', 'Rockery')).why).toBe('its Bed is Long Border');
    expect(one(column('c1', 'filled'), subject({ values: {} })).why).toBe('its Bed is blank');
    expect(one(column('c9', 'filled')).why).toBe('its column was deleted');
    expect(one({ of: 'done', done: false }, subject({ done: true })).why).toBe(
      'it was already done',
    );
    expect(one({ of: 'fits' }, subject({ fits: false })).why).toBe(
      'one of its stamps does not fit',
    );
    const file = { name: 'loan.PDF', bytes: 3000, pages: 2 };
    expect(one({ of: 'ending', value: '.pdf' }, subject({ file })).holds).toBe(true);
    expect(one({ of: 'ending', value: 'docx' }, subject({ file })).why).toBe('it is a .pdf');
    expect(one({ of: 'ending', value: 'pdf' }).why).toBe('it is not a document');
    expect(one({ of: 'pages', is: 'at-most', value: 1 }, subject({ file })).why).toBe(
      'it has 2 pages',
    );
    expect(one({ of: 'bytes', is: 'more', value: 2000 }, subject({ file })).holds).toBe(true);
    expect(
      one({ of: 'pages', is: 'more', value: 1 }, subject({ file: { ...file, pages: undefined } }))
        .holds,
    ).toBe(false);
  });

  test('are asked up to the one that decides; all hold, or any does', () => {
    const truth: Condition = { of: 'done', done: false };
    const lie: Condition = { of: 'done', done: true };
    fc.assert(
      fc.property(fc.boolean(), fc.array(fc.boolean(), { maxLength: 8 }), (all, which) => {
        const list = which.map((is) => (is ? truth : lie));
        const { holds, each } = asked({ all, list }, subject());
        expect(holds).toBe(
          which.length === 0 || (all ? which.every(Boolean) : which.some(Boolean)),
        );
        const decides = which.indexOf(!all);
        const last = decides < 0 ? which.length : decides + 1;
        expect(each.map((a) => a !== null)).toEqual(which.map((_, i) => i < last));
        expect(conditionsSchema.safeParse({ all, list }).success).toBe(true);
      }),
    );
  });
});

describe('what came about by orders', () => {
  test('never starts one of them again, and ends somewhere, whoever listens to whom', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.integer({ min: 0, max: 5 }), { maxLength: 6 }), {
          minLength: 6,
          maxLength: 6,
        }),
        (listens) => {
          // each order does something to which others listen; everything that follows from one
          // event
          const waiting: number[][] = [[]];
          let firings = 0;
          while (waiting.length > 0) {
            const chain = waiting.pop()!;
            const woken = chain.length === 0 ? [0, 1, 2, 3, 4, 5] : listens[chain.at(-1)!]!;
            for (const order of woken) {
              if (!mayStart(order, chain).starts) continue;
              firings++;
              const next = chainOf(order, chain);
              expect(new Set(next).size).toBe(next.length);
              expect(next.length).toBeLessThanOrEqual(deepest);
              waiting.push(next);
            }
          }
          expect(firings).toBeLessThanOrEqual(6 * 6 ** deepest);
        },
      ),
      { numRuns: 30 },
    );
  });

  test('is told in words', () => {
    expect(mayStart(3, [])).toEqual({ starts: true });
    expect(mayStart(3, [3])).toMatchObject({ why: expect.stringContaining('own work') as string });
    expect(mayStart(3, [3, 4])).toMatchObject({
      why: expect.stringContaining('through others') as string,
    });
    expect(mayStart(9, [1, 2, 3, 4])).toMatchObject({
      why: expect.stringContaining('4 orders') as string,
    });
  });

  test('is one event, however many changes it was within a second', () => {
    fc.assert(
      fc.property(fc.boolean(), fc.array(fc.boolean(), { maxLength: 12 }), (there, steps) => {
        // a thing that is there or not, and comes, changes and goes
        let is = there;
        let told: Change | null | undefined;
        for (const stays of steps) {
          const change: Change = stays ? (is ? 'changed' : 'came') : 'went';
          if (change === 'went' && !is) continue;
          is = change !== 'went';
          told = told === undefined || told === null ? change : folded(told, change);
        }
        if (told === undefined) expect(is).toBe(there);
        else if (told === null) expect([there, is]).toEqual([false, false]);
        else
          expect([there, is]).toEqual(
            { came: [false, true], changed: [true, true], went: [true, false] }[told],
          );
      }),
    );
  });
});
