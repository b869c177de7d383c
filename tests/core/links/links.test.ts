import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  codeIn,
  isLinkCode,
  linkAddress,
  linkAlphabet,
  newLinkCode,
  pageAddress,
  pageIn,
  spokenCode,
  tidyCode,
  type LinkFor,
} from '../../../src/core/links/code';
import { deviceOf } from '../../../src/core/links/device';
import { linkOf, sampleCode, withoutLink } from '../../../src/core/links/held';
import {
  isOurLink,
  leadingOf,
  leadsTrouble,
  openRule,
  type Leads,
  type LinkRule,
} from '../../../src/core/links/leading';
import { contentOf, firstStamp } from '../../../src/core/payload/stamp';
import { isSecret, type Column } from '../../../src/core/records/columns';
import { withWorked } from '../../../src/core/records/worked';
import { encode } from '../../../src/core/symbology';

/** Codes out of numbers that a property hands in. */
const codes = (of: LinkFor) =>
  fc
    .array(fc.nat(), { minLength: 200, maxLength: 200 })
    .map((numbers) => newLinkCode(of, (most) => numbers.shift()! % most));
const anyCode = fc.oneof(codes('anyone'), codes('one'));
const sign = fc.constantFrom(...linkAlphabet);

describe('the code of a link', () => {
  test('has eight or twelve characters and a check character, all in the alphanumeric mode of QR codes', () => {
    fc.assert(
      fc.property(codes('anyone'), codes('one'), (short, long) => {
        expect(short).toMatch(/^[0-9A-Z]{9}$/);
        expect(long).toMatch(/^[0-9A-Z]{13}$/);
        expect(isLinkCode(short) && isLinkCode(long)).toBe(true);
      }),
    );
    expect(linkAlphabet).not.toMatch(/[01LOIAEU]/);
    expect(new Set(linkAlphabet).size).toBe(28);
  });
  test('with one character wrong is none', () => {
    fc.assert(
      fc.property(anyCode, fc.nat(), sign, (code, at, other) => {
        const i = at % code.length;
        fc.pre(code[i] !== other);
        expect(isLinkCode(code.slice(0, i) + other + code.slice(i + 1))).toBe(false);
      }),
      { numRuns: 2000 },
    );
  });
  test('with any two characters swapped is none', () => {
    fc.assert(
      fc.property(anyCode, fc.nat(), fc.nat(), (code, a, b) => {
        // the check character is weighed by the place behind the last
        const [i, j] = [a % (code.length - 1), b % (code.length - 1)];
        fc.pre(code[i] !== code[j]);
        const signs = [...code];
        [signs[i], signs[j]] = [signs[j]!, signs[i]!];
        expect(isLinkCode(signs.join(''))).toBe(false);
      }),
      { numRuns: 2000 },
    );
  });
  test('is taken in small letters, with hyphens and with blanks', () => {
    fc.assert(
      fc.property(anyCode, (code) => {
        expect(tidyCode(spokenCode(code).toLowerCase().replace('-', ' '))).toBe(code);
      }),
    );
    expect(spokenCode('7K2M9Q4TX')).toBe('7K2M-9Q4TX');
  });
  test('is found again in its address', () => {
    fc.assert(
      fc.property(anyCode, (code) => {
        expect(codeIn(linkAddress('https://go.marrambay.example', code))).toBe(code);
      }),
    );
    const id = 'A-b_'.repeat(5) + 'xy';
    expect(pageIn(pageAddress('https://stamp.marrambay.example', id))).toBe(id);
    expect(pageIn('https://stamp.marrambay.example/r/short')).toBeUndefined();
  });
  test('makes a smaller QR code than the same address in small letters', () => {
    const address = linkAddress('https://go.marrambay.example', '7K2M9Q4TX');
    const size = (text: string) => encode('qr', text, { level: 'M' }).columns;
    expect(size(address)).toBeLessThan(size(address.toLowerCase()));
    expect(sampleCode('anyone')).toHaveLength(9);
    expect(sampleCode('one')).toHaveLength(13);
  });
});

const hosts = new Set(['go.marrambay.example', 'stamp.marrambay.example']);
const to = (text: string): Leads => ({ parts: [{ kind: 'text', text }] });
const follows: Leads = {
  parts: [
    { kind: 'text', text: 'https://marrambay.example/beds/' },
    { kind: 'column', column: 'c1' },
  ],
};
const led = (
  rule: Partial<LinkRule>,
  leads = follows,
  values: Record<string, string> | null = { c1: 'A 4' },
) => leadingOf({ ...openRule, ...rule }, leads, values, '2026-11-23', hosts);

describe('where a link leads', () => {
  test.each<[string, Partial<LinkRule>, ReturnType<typeof led>]>([
    [
      'to what its record comes to',
      {},
      { kind: 'leads', to: 'https://marrambay.example/beds/A%204' },
    ],
    ['nowhere while it is paused', { state: 'paused' }, { kind: 'paused' }],
    ['nowhere once it is withdrawn', { state: 'withdrawn' }, { kind: 'withdrawn' }],
    [
      'on its last day still',
      { ends: '2026-11-23' },
      { kind: 'leads', to: 'https://marrambay.example/beds/A%204' },
    ],
    ['nowhere the day after', { ends: '2026-11-22' }, { kind: 'ended' }],
    [
      'elsewhere the day after, where that is said',
      { ends: '2026-11-22', after: 'https://marrambay.example/over' },
      { kind: 'leads', to: 'https://marrambay.example/over' },
    ],
    [
      'on its first day',
      { opens: '2026-11-23' },
      { kind: 'leads', to: 'https://marrambay.example/beds/A%204' },
    ],
    ['not the day before', { opens: '2026-11-24' }, { kind: 'not-yet', opens: '2026-11-24' }],
  ])('%s', (_, rule, leading) => expect(led(rule)).toEqual(leading));
  test('nowhere where its record is gone, a column is blank, or what it comes to is no address of the web', () => {
    expect(led({}, follows, null)).toEqual({ kind: 'nowhere', why: 'gone' });
    expect(led({}, follows, { c1: ' ' })).toEqual({ kind: 'nowhere', why: 'blank' });
    const column: Leads = { parts: [{ kind: 'column', column: 'c1' }] };
    for (const address of [
      'javascript:alert(1)',
      'data:text/html,x',
      'marrambay.example',
      'https://',
      'ftp://a.example/',
    ])
      expect(led({}, column, { c1: address })).toEqual({ kind: 'nowhere', why: 'no-address' });
    expect(led({}, to('https://marrambay.example/map'), null)).toMatchObject({ kind: 'leads' });
  });
  test('never back to a link of ours, however that is written', () => {
    const code = newLinkCode('anyone', () => 5);
    for (const address of [
      `https://go.marrambay.example/${code}`,
      `HTTPS://GO.MARRAMBAY.EXAMPLE/${code}/preview`,
      `https://stamp.marrambay.example/${code.toLowerCase()}`,
      `https://go.marrambay.example/%${code.charCodeAt(0).toString(16)}${code.slice(1)}`,
      `https://go.marrambay.example/l/${code}/`,
    ]) {
      expect(isOurLink(address, hosts), address).toBe(true);
      expect(led({}, to(address))).toEqual({ kind: 'nowhere', why: 'ring' });
      expect(leadsTrouble(to(address), hosts)?.message).toContain('in a circle');
    }
    expect(isOurLink(`https://elsewhere.example/${code}`, hosts)).toBe(false);
    expect(isOurLink('https://stamp.marrambay.example/r/page', hosts)).toBe(false);
  });
  test('to no address that could not be opened, which is said when it is given', () => {
    expect(leadsTrouble(to('javascript:alert(1)'), hosts)).toBeDefined();
    expect(leadsTrouble(to('marrambay.example/map'), hosts)?.mend).toContain('https://');
    expect(leadsTrouble(to('https://marrambay.example/map'), hosts)).toBeUndefined();
  });
});

describe('a column of links', () => {
  const columns: Column[] = [
    { id: 'c1', name: 'Bed', role: 'key' },
    {
      id: 'w2',
      name: 'Link',
      role: 'text',
      worked: { source: { kind: 'link', for: 'anyone', parts: follows.parts }, steps: [] },
    },
  ];
  const made: string[] = [];
  const context = {
    position: 0,
    secret: () => '',
    lookup: () => '',
    address: (_: string, before: string) => {
      const code = codeIn(before) ?? newLinkCode('anyone', (most) => (made.length * 7 + 3) % most);
      made.push(code);
      return linkAddress('https://go.marrambay.example', code);
    },
  };
  test('gives each record its link once; a blank takes it away, and it is the same when it comes back', () => {
    const first = withWorked(columns, { c1: 'A 4' }, context);
    expect(codeIn(first.w2!)).toBeDefined();
    expect(withWorked(columns, { ...first, c1: 'B 9' }, context).w2).toBe(first.w2);
    const blank = withWorked(columns, { ...first, c1: '' }, context);
    expect(blank.w2).toBe('');
    expect(
      withWorked(columns, { ...blank, c1: 'C 1' }, context, { w2: `/${codeIn(first.w2!)}` }).w2,
    ).toBe(first.w2);
  });
  test('is what a stamp goes by that says it alone', () => {
    const stamp = {
      ...firstStamp(columns),
      does: 'page',
      parts: [{ kind: 'column' as const, column: 'w2' }],
    };
    const held = linkOf(stamp, columns)!;
    expect(held.column.name).toBe('Link');
    expect(contentOf(withoutLink(stamp, held), { c1: 'A 4' })).toEqual({
      state: 'said',
      payload: 'https://marrambay.example/beds/A%204',
    });
    expect(linkOf({ ...stamp, does: 'text' }, columns)).toBeUndefined();
    expect(linkOf({ ...stamp, parts: follows.parts }, columns)).toBeUndefined();
  });
  test('is secret where each is for one person', () => {
    const personal: Column = {
      ...columns[1]!,
      worked: { source: { kind: 'link', for: 'one', parts: follows.parts }, steps: [] },
    };
    expect(isSecret(personal, columns)).toBe(true);
    expect(isSecret(columns[1]!, columns)).toBe(false);
  });
});

describe('the class of a device', () => {
  const of = (agent: string, more: Record<string, string> = {}) =>
    deviceOf(new Headers({ 'user-agent': agent, ...more }));
  test.each([
    [
      'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X) AppleWebKit/605.1.15 Mobile/15E148 Safari/604.1',
      'phone',
    ],
    [
      'Mozilla/5.0 (Linux; Android 15; K) AppleWebKit/537.36 Chrome/131.0.0.0 Mobile Safari/537.36',
      'phone',
    ],
    [
      'Mozilla/5.0 (Linux; Android 14; SM) AppleWebKit/537.36 Chrome/131.0.0.0 Safari/537.36',
      'tablet',
    ],
    ['Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605.1.15', 'tablet'],
    [
      'Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 Chrome/131.0.0.0 Safari/537.36',
      'computer',
    ],
    ['Mozilla/5.0 (compatible; Somebot/2.1; +https://somewhere.example)', 'robot'],
    ['curl/8.5.0', 'robot'],
    ['hand-stamp', 'robot'],
    ['', 'robot'],
    ['A television', 'other'],
  ])('%s is %s', (agent, device) => expect(of(agent)).toBe(device));
  test('a page fetched ahead is no scan', () =>
    expect(of('Mozilla/5.0 (iPhone) Mobile Safari', { 'sec-purpose': 'prefetch' })).toBe('robot'));
});
