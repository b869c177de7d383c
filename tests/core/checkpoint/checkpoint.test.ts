import { proofOf, publicKeyOf } from '../../../src/core/base/proof';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { answerTo, type Found, type Pass } from '../../../src/core/checkpoint/answer';
import {
  answerApart,
  codeHash,
  corrected,
  packIndex,
  type Pack,
} from '../../../src/core/checkpoint/offline';
import {
  differing,
  insides,
  isOf,
  takeApart,
  tidyScan,
  wrapOf,
} from '../../../src/core/checkpoint/recognise';
import { failing, sessionAt, type Hold, type Rule } from '../../../src/core/checkpoint/rule';
import { contentOf, firstStamp, type Stamp, formOf } from '../../../src/core/payload/stamp';
import type { Column } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Shift', role: 'text' },
];
const rune = { c1: 'DH-0142', c2: 'Rune Castellan', c3: 'Sat morning' };
const noon = Date.parse('2026-11-28T12:00:00Z');
const take = { list: 1, stamps: [], genuine: false, holds: [] as Hold[], shows: [] };
const rule = (change: Partial<Rule> = {}): Rule => ({
  takes: [take],
  often: 'once',
  session: { kind: 'none' },
  opens: null,
  ends: null,
  ...change,
});
const found = (change: Partial<Extract<Found, { kind: 'record' }>> = {}): Found => ({
  kind: 'record',
  take,
  values: rune,
  columns,
  proven: false,
  ...change,
});
const clock = (at: number) => new Date(at).toISOString().slice(11, 16);
const ask = (r: Rule, f: Found, passes: Pass[] = [], now = noon) =>
  answerTo(r, f, passes, now, 'North gate', clock);
const pass = (change: Partial<Pass> = {}): Pass => ({
  at: noon - 60_000,
  session: null,
  where: 'North gate',
  ...change,
});
const hold = (is: Hold['is'], value = '', column = 'c3'): Hold => ({ column, is, value });

describe('an answer', () => {
  test('lets a code in once, and says when and where it was before', () => {
    expect(ask(rule(), found())).toEqual({ answer: 'comes-in', why: '', session: null });
    expect(ask(rule(), found(), [pass()])).toMatchObject({ answer: 'was-here', why: '11:59' });
    expect(ask(rule(), found(), [pass({ where: 'South gate' })]).why).toBe('11:59, South gate');
    expect(ask(rule({ often: 'any' }), found(), [pass()]).answer).toBe('comes-in');
  });

  test('counts each session by itself, and none where none is on', () => {
    const hours = (from: string, until: string, name: string) => ({
      name,
      from: `2026-11-28T${from}:00Z`,
      until: `2026-11-28T${until}:00Z`,
    });
    const r = rule({
      often: 'each-session',
      session: {
        kind: 'time',
        spans: [hours('09:00', '12:00', 'morning'), hours('12:00', '15:00', 'noon')],
      },
    });
    expect(sessionAt(r.session, noon - 1)).toBe('morning');
    expect(sessionAt(r.session, noon)).toBe('noon');
    expect(sessionAt(r.session, noon + 3 * 3_600_000)).toBeNull();
    expect(ask(r, found(), [pass({ session: 'morning' })]).answer).toBe('comes-in');
    expect(ask(r, found(), [pass({ session: 'noon' })]).answer).toBe('was-here');
    expect(ask(r, found(), [], noon + 4 * 3_600_000)).toMatchObject({
      answer: 'not-now',
      why: 'no session is on now',
    });
  });

  test('says which condition does not hold, and is closed before and after its time', () => {
    const held = (...holds: Hold[]) => found({ take: { ...take, holds } });
    expect(ask(rule(), held(hold('is', 'sat MORNING'))).answer).toBe('comes-in');
    expect(ask(rule(), held(hold('filled'), hold('is', 'Sun')))).toMatchObject({
      answer: 'not-now',
      why: 'its Shift is Sat morning, not Sun',
    });
    expect(ask(rule(), held(hold('is-not', 'Sat morning'))).answer).toBe('not-now');
    expect(ask(rule(), held(hold('blank'))).why).toBe('its Shift is Sat morning');
    expect(ask(rule({ opens: '2026-11-28T13:00:00Z' }), found()).why).toBe('it opens at 13:00');
    expect(ask(rule({ ends: '2026-11-28T12:00:00Z' }), found()).why).toBe('it ended at 12:00');
  });

  test('asks for a proof where the rule does, and hands on what was found otherwise', () => {
    const genuine = { take: { ...take, genuine: true } };
    expect(ask(rule(), found(genuine)).answer).toBe('not-certain');
    expect(ask(rule(), found({ ...genuine, proven: true })).answer).toBe('comes-in');
    for (const kind of ['altered', 'withdrawn', 'unknown'] as const)
      expect(ask(rule(), { kind, why: 'so' })).toEqual({ answer: kind, why: 'so', session: null });
  });

  test('takes one of several values in a cell for the session', () => {
    const cell = (c3: string) =>
      failing([hold('session')], { ...rune, c3 }, columns, 'Sat morning');
    expect(cell('Sat morning')).toBeUndefined();
    expect(cell('Fri evening, sat morning; Sun')).toBeUndefined();
    expect(cell('Sat morning early')?.words).toBe('its Shift is Sat morning early');
    expect(cell('')?.words).toBe('its Shift is blank');
  });
});

describe('a code', () => {
  const stamp: Stamp = {
    ...firstStamp(columns),
    does: 'page',
    parts: [
      { kind: 'text', text: 'https://marrambay.example/v/' },
      { kind: 'column', column: 'c1' },
      { kind: 'text', text: '?n=' },
      { kind: 'column', column: 'c2' },
    ],
  };

  test('is taken apart into the values that it was made of, whatever they are', () => {
    const value = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
      .map((s) => s.replace(/[\s\p{C}]/gu, ''))
      .filter((s) => s !== '');
    fc.assert(
      fc.property(value, value, (c1, c2) => {
        const content = contentOf(stamp, { c1, c2 });
        if (content.state !== 'said') return;
        expect(takeApart(formOf(stamp), content.payload)).toEqual({ c1, c2 });
        expect(isOf(stamp, { c1, c2 }, content.payload)).toBe(true);
      }),
    );
  });

  test('of another form is not taken apart, and one that is long and hostile costs no time', () => {
    expect(takeApart(formOf(stamp), 'https://marrambay.example/w/DH-1?n=x')).toBeUndefined();
    expect(takeApart(formOf(firstStamp([])), 'DH-1')).toBeUndefined();
    const sides = { ...stamp, parts: [...stamp.parts, { kind: 'column' as const, column: 'c3' }] };
    expect(takeApart(formOf(sides), 'https://marrambay.example/v/a?n=bc')).toBeUndefined();
    const many: Stamp = {
      ...stamp,
      does: 'text',
      parts: Array.from({ length: 30 }, (_, i) =>
        i % 2 ? { kind: 'text' as const, text: 'a' } : { kind: 'column' as const, column: `c${i}` },
      ),
    };
    expect(takeApart(formOf(many), 'a'.repeat(4000))).toBeDefined();
    expect(takeApart(formOf(many), `${'a'.repeat(4000)}b`)).toBeUndefined();
  });

  test('that says otherwise than the list is told field by field', () => {
    const said = takeApart(formOf(stamp), 'https://marrambay.example/v/DH-0142?n=Rune%20Castell')!;
    expect(differing(said, rune, columns)).toEqual([
      { column: 'Name', code: 'Rune Castell', list: 'Rune Castellan' },
    ]);
  });

  test('is known also with the sign of its symbology before it, and a reader’s own additions are found', () => {
    expect(tidyScan(']Q1DH-0142\r\n')).toBe('DH-0142');
    expect(tidyScan('DH-0142')).toBe('DH-0142');
    const text = 'X9DH-0142#';
    expect(insides(text)).toContain('DH-0142');
    expect(wrapOf(text, ['DH-0142', '0142'])).toEqual({ before: 'X9', after: '#' });
    expect(wrapOf('DH-0142', ['DH-0142'])).toBeUndefined();
    expect(wrapOf('XDH1', ['DH1'])).toBeUndefined();
  });
});

describe('without a network', () => {
  const salt = 'salt';
  const pack = (
    change: Partial<Pack['records'][number]> = {},
    often: Rule['often'] = 'once',
  ): Pack => ({
    salt,
    name: 'North gate',
    rule: {
      often,
      session: { kind: 'hand', names: ['a', 'b'], now: 'a' },
      opens: null,
      ends: null,
    },
    records: [
      {
        title: 'Rune',
        shown: [['Role', 'Guide']],
        codes: [codeHash(salt, 'R1')],
        passes: [],
        ...change,
      },
    ],
    signed: [],
    made: noon,
  });
  const apart = (p: Pack, text = 'R1') => answerApart(p, packIndex(p), text, noon, clock);

  test('a device lets in what it knows, and is not certain of the rest', () => {
    expect(apart(pack())).toMatchObject({ answer: 'comes-in', record: { title: 'Rune' } });
    expect(apart(pack(), 'R2').answer).toBe('not-certain');
    expect(apart(pack({ bad: 'its Role is blank' }))).toMatchObject({
      answer: 'not-now',
      why: 'its Role is blank',
    });
    expect(apart(pack({ sessions: 'b' }, 'each-session')).answer).toBe('not-now');
    expect(apart(pack({ sessions: 'b, A' }, 'each-session')).answer).toBe('comes-in');
    const before = [{ at: noon - 60_000, session: 'a', where: 'South gate' }];
    expect(apart(pack({ passes: before }))).toMatchObject({
      answer: 'was-here',
      why: '11:59, South gate',
    });
    expect(apart(pack({ passes: before }, 'any')).answer).toBe('comes-in');
  });

  test('it checks a signed proof by itself: a forged code is altered, a true one that it does not hold not certain', () => {
    const key = Uint8Array.from({ length: 32 }, (_, i) => i + 3);
    const signed = [
      {
        parts: [
          { kind: 'text' as const, text: 'https://marrambay.example/v/' },
          { kind: 'column' as const, column: 'c1' },
        ],
        signed: ['c1'],
        publicKey: publicKeyOf(key),
      },
    ];
    const with2 = { ...pack(), signed };
    const code = (no: string, vouched = no) =>
      `https://marrambay.example/v/${encodeURIComponent(no)}?proof=${proofOf([vouched], key, 'public')}`;
    expect(apart(with2, code('DH 7/ü'))).toMatchObject({
      answer: 'not-certain',
      why: expect.stringContaining('its proof is right') as string,
    });
    expect(apart(with2, code('DH-8', 'DH-7'))).toMatchObject({
      answer: 'altered',
      why: 'its proof is wrong',
    });
    expect(apart(with2, 'https://marrambay.example/v/DH-8').answer).toBe('not-certain');
    expect(apart(with2, 'R1').answer).toBe('comes-in');
    expect(apart(pack(), code('DH-8', 'DH-7')).answer).toBe('not-certain');
  });

  test('what it holds tells no code, and another salt another hash', () => {
    const text = JSON.stringify(pack());
    expect(text).not.toContain('R1');
    expect(codeHash('a', 'R1')).not.toBe(codeHash('b', 'R1'));
    expect(codeHash('a', 'R1')).toMatch(/^[\w-]{16}$/);
  });

  test('its clock is put right, and nothing was scanned after now', () => {
    expect(corrected(noon - 5000, 3000, noon)).toBe(noon - 2000);
    expect(corrected(noon + 90_000, 0, noon)).toBe(noon);
  });
});
