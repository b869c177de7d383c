import { describe, expect, test } from 'vitest';
import { contrastRatio, parseColour } from '../../src/core/look/colour';
import { defaultLook, lookWarnings } from '../../src/core/look/look';
import { checkDigitFits } from '../../src/core/payload/check-digit';
import { contentOf, firstStamp, judgeStamp, type Stamp } from '../../src/core/payload/stamp';
import { keyColumn, suggestRoles, tidyHeadings, type Column } from '../../src/core/records/columns';
import { recordProblems } from '../../src/core/records/judge';

const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Number', role: 'product' },
  { id: 'c4', name: 'E-mail', role: 'email' },
];
const good = { c1: 'DH-0142', c2: 'Ines', c3: '2000411000017', c4: 'ines@post.example' };

describe('columns', () => {
  test('what they are for is suggested from headings and values', () => {
    const rows = [
      ['DH-0142', 'Ines Okafor', 'ines@post.example', 'https://marrambay.example/1', 'Dune House'],
      ['DH-0143', 'Tam Bell', 'tam@post.example', 'https://marrambay.example/2', 'Dune House'],
      ['DH-0144', 'Joss Amadi', 'joss@post.example', 'https://marrambay.example/3', 'Glasshouse'],
    ];
    expect(suggestRoles(['Badge no', 'Name', 'E-mail', 'Page', 'Site'], rows)).toEqual(['key', 'name', 'email', 'address', 'text']);
  });

  test('a product number serves as key where there is no other, and is still checked as one', () => {
    const roles = suggestRoles(
      ['Product number', 'Variety'],
      [
        ['2000411000017', 'Sea kale'],
        ['2000411000024', 'Thrift'],
      ],
    );
    expect(roles).toEqual(['product', 'name']);
    expect(keyColumn(roles.map((role, i) => ({ id: `c${i}`, name: '', role })))?.id).toBe('c0');
  });

  test('eight random digits are no product number', () => {
    const rows = Array.from({ length: 40 }, (_, i) => [`T-${i}`, String(10000000 + i * 7919)]);
    expect(suggestRoles(['Tag', 'Serial'], rows)[1]).toBe('text');
  });

  test('blank and repeated headings are made usable, with a word about it', () => {
    expect(tidyHeadings(['Name', '', 'name', ' Site  two '])).toEqual({
      names: ['Name', 'Column 2', 'name (2)', 'Site two'],
      notes: [
        'Column 2 has no heading; it is called “Column 2”.',
        'The heading “name” comes more than once; the later one is called “name (2)”.',
      ],
    });
  });
});

describe('problems of a record', () => {
  const texts = (values: Partial<typeof good>, repeated = false) =>
    recordProblems({ ...good, ...values }, columns, repeated).map((p) => p.text);

  test('a good record has none', () => expect(texts({})).toEqual([]));

  test.each([
    [{ c1: ' ' }, 'Badge no is blank'],
    [{ c2: '' }, 'Name is blank'],
    [{ c3: '2000411000010' }, 'Number has a wrong check digit'],
    [{ c3: '40000070417' }, 'Number has 11 digits; 8, 12, 13 or 14 are right, perhaps a leading zero was lost'],
    [{ c3: '2.00041E+12' }, 'Number was turned into 2.00041E+12 by a spreadsheet'],
    [{ c4: 'no e-mail' }, 'E-mail is not an e-mail address'],
    [{ c2: 'Ines\u200b' }, 'Name holds an invisible character'],
    [{ c2: '#REF!' }, 'Name holds a formula error (#REF!)'],
  ])('%o: %s', (values, text) => expect(texts(values)).toContain(text));

  test('a repeated key is one', () => expect(texts({}, true)).toEqual(['Badge no comes more than once']));

  test('check digits of GTIN-8, 12, 13 and 14', () => {
    // worked by hand: weights 3 and 1 from the right
    for (const right of ['20000004', '040000700418', '2000411000017', '12000411000014'])
      expect([right, checkDigitFits(right)]).toEqual([right, true]);
    for (const wrong of ['20000005', '2000411000018']) expect(checkDigitFits(wrong)).toBe(false);
  });
});

describe('content of a stamp', () => {
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

  test('values are percent-encoded where they land in an address', () => {
    expect(contentOf(stamp, { c1: 'A/7 b', c2: 'Σ & Co' })).toEqual({
      state: 'said',
      payload: 'https://marrambay.example/v/A%2F7%20b?n=%CE%A3%20%26%20Co',
    });
    expect(contentOf({ ...stamp, parts: [{ kind: 'column', column: 'c1' }] }, { c1: 'https://a.example/?x=1&y' })).toEqual({
      state: 'said',
      payload: 'https://a.example/?x=1&y',
    });
    expect(contentOf({ ...stamp, does: 'text' }, { c1: 'A/7 b', c2: 'x' })).toMatchObject({
      payload: 'https://marrambay.example/v/A/7 b?n=x',
    });
  });

  test('a blank column gives no code and says which', () => {
    expect(contentOf(stamp, { c1: '', c2: 'x' })).toEqual({ state: 'blank', columns: ['c1'] });
    expect(judgeStamp(stamp, { c1: ' ', c2: 'x' }, columns)).toEqual({ mark: 'out', reason: 'no code: Badge no is blank' });
  });

  test('what does not fit, and an address without its scheme, need a look', () => {
    expect(judgeStamp(stamp, { c1: 'x'.repeat(5000), c2: 'y' }, columns)).toMatchObject({
      mark: 'look',
      mend: expect.stringContaining('Shorten'),
    });
    const bare = { ...stamp, parts: [{ kind: 'text' as const, text: 'marrambay.example/1' }] };
    expect(judgeStamp(bare, {}, columns)).toMatchObject({ mark: 'look', reason: expect.stringContaining('https://') });
    expect(judgeStamp(stamp, { c1: 'DH-1', c2: 'y' }, columns).mark).toBe('ready');
  });
});

describe('colours', () => {
  test('contrast is that of WCAG', () => {
    expect(contrastRatio(parseColour('#000000')!, parseColour('#fff')!)).toBeCloseTo(21, 5);
    expect(contrastRatio(parseColour('#777777')!, parseColour('#ffffff')!)).toBeCloseTo(4.48, 2);
    expect(parseColour('violet')).toBeUndefined();
  });

  test('what scanners will not read is said before printing', () => {
    const kinds = (look: Partial<typeof defaultLook>, module = 0.5) => lookWarnings({ ...defaultLook, ...look }, module).map((w) => w.kind);
    expect(kinds({})).toEqual([]);
    expect(kinds({ foreground: '#c9b458' })).toContain('contrast');
    expect(kinds({ foreground: '#ffffff', background: '#000000' })).toEqual(['inverted']);
    expect(kinds({ foreground: '#d01020' })).toContain('red-light');
    expect(kinds({}, 0.1)).toEqual(['small-module']);
    expect(kinds({ quietZone: false })).toEqual(['quiet-zone']);
  });
});
