import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { contrastRatio, parseColour } from '../../../src/core/look/colour';
import { defaultLook } from '../../../src/core/look/look';
import { lookWarnings } from '../../../src/core/look/warnings';
import { checkDigitFits } from '../../../src/core/base/check-digit';
import { contentOf, firstStamp, judgeStamp, type Stamp } from '../../../src/core/payload/stamp';
import {
  keyColumn,
  suggestRoles,
  tidyHeadings,
  type Column,
  type Values,
} from '../../../src/core/records/columns';
import {
  commonShape,
  noFacts,
  numberedApart,
  recordProblems,
  shapeOf,
  type ListFacts,
} from '../../../src/core/records/problems';
import { byEye } from '../../../src/core/records/look-alikes';
import type { Doubts } from '../../../src/core/records/reading';
import type { Worked } from '../../../src/core/records/worked';
import {
  differences,
  matchColumns,
  plainKey,
  reformedKeys,
} from '../../../src/core/records/differences';
import { folderRows } from '../../../src/core/records/folder';

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
    expect(suggestRoles(['Badge no', 'Name', 'E-mail', 'Page', 'Site'], rows)).toEqual([
      'key',
      'name',
      'email',
      'address',
      'text',
    ]);
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
    recordProblems({ ...good, ...values }, columns, { ...noFacts, repeated }).map((p) => p.text);

  test('a good record has none', () => expect(texts({})).toEqual([]));

  test.each([
    [{ c1: ' ' }, 'Badge no is blank'],
    [{ c2: '' }, 'Name is blank'],
    [{ c3: '2000411000010' }, 'Number has a wrong check digit'],
    [{ c3: '40000700418' }, 'Number has 11 digits: a leading zero was lost'],
    [{ c3: '2.00041E+12' }, 'Number was turned into 2.00041E+12 by a spreadsheet'],
    [{ c4: 'no e-mail' }, 'E-mail is not an email address'],
    [{ c2: 'Ines\u200b' }, 'Name contains an invisible character'],
    [{ c2: '#REF!' }, 'Name contains a formula error (#REF!)'],
    [{ c2: ' Ines  Bell' }, 'Name contains stray spaces'],
    [{ c1: 'DН-0142' }, 'Badge no mixes Latin letters with look-alikes of another script'],
    [{ c3: '12345' }, 'Number has 5 digits; 8, 12, 13 or 14 are correct'],
  ])('%o: %s', (values, text) => expect(texts(values)).toContain(text));

  test('a repeated key is one', () =>
    expect(texts({}, true)).toEqual(['Badge no comes more than once']));

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
    expect(
      contentOf(
        { ...stamp, parts: [{ kind: 'column', column: 'c1' }] },
        { c1: 'https://a.example/?x=1&y' },
      ),
    ).toEqual({
      state: 'said',
      payload: 'https://a.example/?x=1&y',
    });
    expect(contentOf({ ...stamp, does: 'text' }, { c1: 'A/7 b', c2: 'x' })).toMatchObject({
      payload: 'https://marrambay.example/v/A/7 b?n=x',
    });
  });

  test('a blank column gives no code and says which', () => {
    expect(contentOf(stamp, { c1: '', c2: 'x' })).toEqual({ state: 'blank', columns: ['c1'] });
    expect(judgeStamp(stamp, { c1: ' ', c2: 'x' }, columns)).toEqual({
      mark: 'out',
      reason: 'no code: Badge no is blank',
    });
  });

  test('what does not fit, and an address without its scheme, need a look', () => {
    expect(judgeStamp(stamp, { c1: 'x'.repeat(5000), c2: 'y' }, columns)).toMatchObject({
      mark: 'look',
      mend: expect.stringContaining('Shorten'),
    });
    const bare = { ...stamp, parts: [{ kind: 'text' as const, text: 'marrambay.example/1' }] };
    expect(judgeStamp(bare, {}, columns)).toMatchObject({
      mark: 'look',
      reason: expect.stringContaining('https://'),
    });
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
    const kinds = (look: Partial<typeof defaultLook>, module = 0.5) =>
      lookWarnings({ ...defaultLook, ...look }, { moduleMm: module, columns: 33 }).map(
        (w) => w.kind,
      );
    expect(kinds({})).toEqual([]);
    expect(kinds({ foreground: '#c9b458' })).toContain('contrast');
    expect(kinds({ foreground: '#ffffff', background: '#000000' })).toEqual(['inverted']);
    expect(kinds({ foreground: '#d01020' })).toContain('red-light');
    expect(kinds({}, 0.1)).toEqual(['small-module']);
    expect(kinds({ quietZone: false })).toEqual(['quiet-zone']);
  });
});

describe('mends', () => {
  const mended = (values: Partial<typeof good>, kind: string, shapes = {}) =>
    recordProblems({ ...good, ...values }, columns, { ...noFacts, shapes }).find(
      (p) => p.kind === kind,
    )?.mended;

  test('each gives the value that would be right, and leaves it open where only a person can tell', () => {
    expect(mended({ c2: ' Ines\u00a0 Bell ' }, 'spaces')).toBe('Ines Bell');
    expect(mended({ c2: 'In\u200bes' }, 'invisible')).toBe('Ines');
    expect(mended({ c3: '40000700418' }, 'zeros')).toBe('040000700418');
    expect(mended({ c3: '2000411000010' }, 'check-digit')).toBe('2000411000017');
    // the first letter is Cyrillic
    expect(mended({ c1: 'АB-1' }, 'script')).toBe('AB-1');
    expect(mended({ c3: '2.00041E+12' }, 'rounded')).toBeUndefined();
    expect(mended({ c1: '142' }, 'zeros', { c1: '00000' })).toBe('00142');
    expect(mended({ c1: 'DH142' }, 'shape', { c1: 'LL-0000' })).toBeUndefined();
  });

  test('a mended value has that problem no more', () => {
    for (const [column, value] of [
      ['c2', ' x  y '],
      ['c3', '2000411000010'],
      ['c3', '40000700418'],
      ['c1', 'АB-1'],
    ] as const) {
      const [problem] = recordProblems({ ...good, [column]: value }, columns).filter(
        (p) => p.mended !== undefined,
      );
      expect(
        recordProblems({ ...good, [column]: problem!.mended! }, columns).map((p) => p.kind),
      ).not.toContain(problem!.kind);
    }
  });

  test('Arabic, Hebrew and Devanagari names keep the joiners that belong to their writing', () => {
    expect(recordProblems({ ...good, c2: 'می\u200cخواهم' }, columns)).toEqual([]);
  });

  test('worked and hidden columns are not weighed', () => {
    const worked: Column = {
      id: 'w1',
      name: 'W',
      role: 'text',
      worked: { source: { kind: 'join', parts: [] }, steps: [] },
    };
    expect(recordProblems({ ...good, w1: ' x ' }, [...columns, worked])).toEqual([]);
    const hidden: Column = { id: 'c9', name: 'H', role: 'email', hidden: true };
    expect(recordProblems({ ...good, c9: 'nothing' }, [...columns, hidden])).toEqual([]);
  });

  test('repeats are numbered apart without taking a number that is taken', () => {
    expect(numberedApart(['A', 'A', 'A'], new Set(['A', 'A-2']))).toEqual(['A', 'A-3', 'A-4']);
    // what one group was given is taken for the next, however alike they are
    const taken = new Set(['A', 'A-2']);
    expect(numberedApart(['A', 'A'], taken)).toEqual(['A', 'A-3']);
    expect(numberedApart(['A', 'A'], taken)).toEqual(['A', 'A-4']);
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('A', 'A-2', 'A-2-2', ''), { minLength: 1 }),
        fc.array(fc.constantFrom('A', 'A-2', 'A-3', 'A-2-2', '-2')),
        (values, others) => {
          const all = new Set<string>([...values, ...others]);
          const before = new Set(all);
          const made = [...new Set(values)].flatMap((value) => {
            const same = values.filter((v) => v === value);
            const [first, ...later] = numberedApart(same, all);
            expect(first).toBe(value);
            return later;
          });
          expect(new Set(made).size).toBe(made.length);
          for (const value of made) expect(before.has(value)).toBe(false);
        },
      ),
    );
  });

  test('keys are weighed by eye: case, spaces, O and 0, l and 1, other alphabets', () => {
    for (const [a, b] of [
      ['DO-1', 'D0-1'],
      ['Il', '11'],
      ['AB 1', 'ab1'],
      ['СН-1', 'CH-1'],
      ['A–1', 'A-1'],
    ])
      expect(byEye(a!)).toBe(byEye(b!));
    expect(byEye('DH-0142')).not.toBe(byEye('DH-0143'));
  });

  test('a shape is common when nearly all of enough values have it, and some have not', () => {
    const counts = (many: number, few: number) =>
      new Map([
        ['LL-0000', many],
        ['0000', few],
      ]);
    expect(shapeOf('DH-0142 é')).toBe('LL-0000 L');
    expect(commonShape(counts(100, 2))).toBe('LL-0000');
    expect(commonShape(counts(100, 30))).toBeUndefined();
    expect(commonShape(new Map([['LL-0000', 100]]))).toBeUndefined();
    expect(commonShape(counts(15, 0))).toBeUndefined();
  });
});

describe('a source that is read again', () => {
  const kept = (values: string[][], hands: Record<number, Record<string, string>> = {}) =>
    values.map(([k = '', n = ''], i) => ({ id: i + 1, values: { k, n }, hand: hands[i] ?? null }));
  const rows = (values: string[][]) => values.map(([k = '', n = '']) => ({ k, n }));

  test('what was added, changed and gone, by the key', () => {
    const { list, unchanged } = differences(
      kept([
        ['1', 'a'],
        ['2', 'b'],
        ['3', 'c'],
      ]),
      rows([
        ['3', 'c'],
        ['2', 'B'],
        ['4', 'd'],
      ]),
      ['k', 'n'],
      'k',
    );
    expect(unchanged).toBe(1);
    expect(list).toEqual([
      { change: 'changed', row: 1, record: 2, before: { n: 'b' }, after: { n: 'B' }, clashes: [] },
      { change: 'added', row: 2, after: { k: '4', n: 'd' } },
      { change: 'gone', record: 1, before: { k: '1', n: 'a' } },
    ]);
  });

  test('a hand edit stays while the source says what it said; a clash is told', () => {
    // the source said "a" and "b"; both were changed here
    const records = kept(
      [
        ['1', 'mine'],
        ['2', 'mine too'],
      ],
      { 0: { n: 'a' }, 1: { n: 'b' } },
    );
    const { list } = differences(
      records,
      rows([
        ['1', 'a'],
        ['2', 'theirs'],
      ]),
      ['k', 'n'],
      'k',
    );
    expect(list).toEqual([
      {
        change: 'changed',
        row: 1,
        record: 2,
        before: {},
        after: {},
        clashes: [{ column: 'n', here: 'mine too', there: 'theirs' }],
      },
    ]);
  });

  test('a key changed by hand is still found by what the source calls it', () => {
    const { list, unchanged } = differences(
      kept([['1b', 'a']], { 0: { k: '1' } }),
      rows([['1', 'a']]),
      ['k', 'n'],
      'k',
    );
    expect([list, unchanged]).toEqual([[], 1]);
  });

  test('repeated keys are paired in their order; without a key, rows that are the same throughout', () => {
    expect(
      differences(
        kept([
          ['1', 'a'],
          ['1', 'b'],
        ]),
        rows([
          ['1', 'a'],
          ['1', 'c'],
        ]),
        ['k', 'n'],
        'k',
      ).list,
    ).toMatchObject([{ record: 2 }]);
    const { list } = differences(
      kept([
        ['1', 'a'],
        ['2', 'b'],
      ]),
      rows([
        ['2', 'b'],
        ['3', 'c'],
      ]),
      ['k', 'n'],
      undefined,
    );
    expect(list.map((d) => d.change)).toEqual(['added', 'gone']);
  });

  test('columns are found by what they were called in the source', () => {
    const own = [
      { id: 'c1', name: 'Number', source: 'No.' },
      { id: 'c2', name: 'Name' },
      { id: 'w3', name: 'Tag', worked: {} },
    ];
    expect(matchColumns(own, ['Name', ' no. ', 'Extra', 'Tag'])).toEqual({
      ids: ['c2', 'c1', undefined, undefined],
      missing: [],
    });
    expect(matchColumns(own, ['Name']).missing).toEqual(['c1']);
  });
});

describe('keys in another form', () => {
  test('are told from records gone and others come', () => {
    expect(reformedKeys(['0001', '0002', '0003'], ['1', '2', '3'])).toEqual({
      here: '0001',
      there: '1',
      records: 3,
    });
    expect(reformedKeys(['DH-1', 'DH-2'], ['dh 1', 'dh 2', 'dh 9'])).toMatchObject({ records: 2 });
    expect(reformedKeys(['0001', '0002'], ['7', '8'])).toBeUndefined();
    expect(reformedKeys(['1', '2'], ['1', '2', '3'])).toBeUndefined();
    // two keys that differ in their form alone could be taken for one another
    expect(reformedKeys(['01', '1'], ['001'])).toBeUndefined();
  });
  test('pair the records when a person says so', () => {
    const kept = ['0001', '0002'].map((k, i) => ({ id: i + 1, values: { k, n: 'a' }, hand: null }));
    const { list } = differences(
      kept,
      [
        { k: '1', n: 'a' },
        { k: '2', n: 'b' },
      ],
      ['k', 'n'],
      'k',
      plainKey,
    );
    expect(list).toEqual([
      {
        change: 'changed',
        row: 0,
        record: 1,
        before: { k: '0001' },
        after: { k: '1' },
        clashes: [],
      },
      {
        change: 'changed',
        row: 1,
        record: 2,
        before: { k: '0002', n: 'a' },
        after: { k: '2', n: 'b' },
        clashes: [],
      },
    ]);
  });
});

describe('doubts of a cell', () => {
  const columns: Column[] = [
    { id: 'c1', name: 'No', role: 'key' },
    { id: 'c2', name: 'Serial', role: 'text' },
  ];
  const kinds = (c2: string, doubts: Doubts) =>
    recordProblems({ c1: '1', c2 }, columns, { ...noFacts, doubts }).map((p) => p.kind);
  test('last while the cell holds what was read, and no longer', () => {
    expect(
      kinds('12345678901234568', { c2: { kind: 'rounded', of: '12345678901234568' } }),
    ).toEqual(['rounded']);
    expect(
      kinds('12345678901234567', { c2: { kind: 'rounded', of: '12345678901234568' } }),
    ).toEqual([]);
    expect(kinds('', { c2: { kind: 'no-result', of: '' } })).toEqual(['formula']);
    expect(kinds('Pump', { c2: { kind: 'no-result', of: '' } })).toEqual([]);
  });
});

describe('steps that do a value no good', () => {
  const column = (worked: Worked): Column => ({ id: 'w', name: 'Code', role: 'text', worked });
  const kinds = (worked: Worked, values: Values, more: Partial<ListFacts> = {}) =>
    recordProblems(
      { ...values, w: 'x' },
      [{ id: 'c1', name: 'No', role: 'text' }, column(worked)],
      { ...noFacts, ...more },
    ).map((p) => `${p.kind}: ${p.text}`);
  const checked: Worked = {
    source: { kind: 'join', parts: [{ kind: 'column', column: 'c1' }] },
    steps: [{ kind: 'check-digit' }],
  };
  test('a check digit behind a number that has one', () => {
    expect(kinds(checked, { c1: '02000411000017' })).toEqual([
      'check-twice: Code gets a second check digit: 02000411000017 already has one',
    ]);
    // of 12 or 13 digits one in ten looks so by chance: only where nearly all of the list do
    expect(kinds(checked, { c1: '2000411000017' })).toEqual([]);
    expect(kinds(checked, { c1: '2000411000017' }, { checked: new Set(['w']) })).toHaveLength(1);
    expect(kinds(checked, { c1: '200041100002' })).toEqual([]);
  });
  test('a series beyond its places', () => {
    const series: Worked = {
      source: { kind: 'series', start: 98, by: 1 },
      steps: [{ kind: 'fill', to: 2, with: '0', at: 'front' }],
    };
    expect(kinds(series, { c1: '' }, { position: 1 })).toEqual([]);
    expect(kinds(series, { c1: '' }, { position: 2 })).toEqual([
      'beyond: Code is 100, longer than its 2 digits',
    ]);
  });
});

test('a folder becomes rows: title, address, and no hidden files', () => {
  const files = ['beds/A 1/thrift_plan.pdf', '.hidden', 'beds/~$lock.xlsx', 'map.svg'].map(
    (path) => ({ path, size: 10, changed: '2026-11-20T08:00:00Z' }),
  );
  expect(folderRows(files, 'https://files.marrambay.example/')).toEqual([
    ['File', 'Title', 'Folder', 'Address', 'Size in bytes', 'Changed'],
    [
      'beds/A 1/thrift_plan.pdf',
      'thrift plan',
      'beds/A 1',
      'https://files.marrambay.example/beds/A%201/thrift_plan.pdf',
      '10',
      '2026-11-20',
    ],
    ['map.svg', 'map', '', 'https://files.marrambay.example/map.svg', '10', '2026-11-20'],
  ]);
});

describe('a list without a name', () => {
  const roles = (headings: string[], rows: string[][]) => suggestRoles(headings, rows);
  test('takes its most telling column for a title: words unlike one another, of a readable length', () => {
    const rows = [
      ['T-1', 'Salt Meadow', 'Sea kale, blue', 'x'.repeat(300)],
      ['T-2', 'Salt Meadow', 'Thrift', 'y'.repeat(300)],
      ['T-3', 'Dune House', 'Sea holly', 'z'.repeat(300)],
    ];
    expect(roles(['Tag', 'Bed', 'Grown', 'Story'], rows)).toEqual(['key', 'text', 'name', 'text']);
  });
  test('and of one with codes alone none', () => {
    expect(
      roles(
        ['Tag', 'Shelf'],
        [
          ['T-1', 'S3'],
          ['T-2', 'S3'],
        ],
      ),
    ).toEqual(['key', 'text']);
  });
});
