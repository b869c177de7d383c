import { beforeAll, describe, expect, test } from 'vitest';
import fc from 'fast-check';
import { firstStamp, nextStamp, type Stamp } from '../../../src/core/payload/stamp';
import { fontCatalogue } from '../../../src/core/artwork/font-catalogue';
import type { FontBook } from '../../../src/core/artwork/fonts';
import type { Piece } from '../../../src/core/piece/model';
import { firstPiece } from '../../../src/core/piece/starters';
import {
  placeOnStock,
  placesOn,
  stockById,
  stocks,
  stockTroubles,
  type Stock,
} from '../../../src/core/piece/stock';
import type { Column } from '../../../src/core/records/columns';
import { judgeRow, noRowFacts, type RowFacts } from '../../../src/core/run/judge';
import { fontBook } from '../../../src/server/platform/fonts';

let fonts: FontBook;
beforeAll(() => {
  fonts = fontBook(fontCatalogue.filter((f) => !f.scripts).map((f) => f.key));
});

const columns: Column[] = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Token', role: 'text' },
];
const first = firstStamp(columns);
const second: Stamp = {
  ...nextStamp([first], columns),
  id: 'second',
  name: 'Pass',
  parts: [{ kind: 'column', column: 'c3' }],
};
const stock = stockById('a4-21');
const piece = firstPiece(stock, first, columns);
const withPass: Piece = {
  ...piece,
  elements: [
    ...piece.elements,
    { kind: 'stamp', id: 'pass', stamp: 'second', x: 4, y: 18, sizeMm: 9 },
  ],
};
const judge = (
  values: Record<string, string>,
  { stamps = [first], on = piece, facts = noRowFacts as RowFacts } = {},
) => judgeRow({ stamps, piece: on }, columns, values, facts, fonts);
const marks = ({ records, stamps, piece: p, overall }: ReturnType<typeof judge>) => [
  records,
  stamps,
  p,
  overall,
];

describe('a record is judged band by band', () => {
  test('in order, it is ready everywhere and nothing is said', () => {
    const verdict = judge({ c1: 'DH-1', c2: 'Ines', c3: 'k7' });
    expect(marks(verdict)).toEqual(['ready', 'ready', 'ready', 'ready']);
    expect(verdict.notes).toEqual([]);
  });
  test('without what its code says it is left out, and its piece is not weighed', () => {
    const verdict = judge({
      c1: '',
      c2: 'Bartholomew Featherstonehaugh-Winterbourne of Long Strand and Eelmouth',
      c3: '',
    });
    expect(marks(verdict)).toEqual(['look', 'out', 'out', 'out']);
    expect(verdict.notes.map((n) => n.band)).toEqual(['records', 'stamps']);
  });
  test('a code that cannot be said needs a look at the stamp; the list’s account holds it once', () => {
    const verdict = judge(
      { c1: 'DH-1', c2: 'Ines', c3: '' },
      { stamps: [{ ...first, symbology: 'ean-13' }] },
    );
    expect(marks(verdict)).toEqual(['ready', 'look', 'ready', 'look']);
    expect(verdict.problems.map((p) => p.kind)).toEqual(['misfit']);
    expect(verdict.notes.map((n) => n.band)).toEqual(['stamps']);
  });
  test('words that run over need a look at the piece alone', () => {
    const verdict = judge({
      c1: 'DH-1',
      c2: 'Bartholomew Featherstonehaugh-Winterbourne of Long Strand and Eelmouth',
      c3: '',
    });
    expect(marks(verdict)).toEqual(['ready', 'ready', 'look', 'look']);
    expect(verdict.notes[0]!.text).toMatch(/^runs over by \d+ letters$/);
  });
  test('what the whole list tells is said: a repeated key, one that looks alike, a code that another has too', () => {
    const values = { c1: 'DH-1', c2: 'Ines', c3: '' };
    const kinds = (facts: Partial<RowFacts>) =>
      judge(values, { facts: { ...noRowFacts, ...facts } }).problems.map((p) => p.kind);
    expect(kinds({ repeated: true })).toEqual(['repeat']);
    expect(kinds({ alike: true })).toEqual(['alike']);
    expect(kinds({ sameCode: new Set([first.id]) })).toEqual(['same-code']);
    // that its code comes again goes without saying where its key does
    expect(kinds({ repeated: true, sameCode: new Set([first.id]) })).toEqual(['repeat']);
  });
});

describe('of several stamps', () => {
  const stamps = [first, second];
  test('a blank one leaves the record out only where the piece bears it', () => {
    const values = { c1: 'DH-1', c2: 'Ines', c3: '' };
    expect(marks(judge(values, { stamps }))).toEqual(['ready', 'ready', 'ready', 'ready']);
    expect(marks(judge(values, { stamps, on: withPass }))).toEqual(['ready', 'out', 'out', 'out']);
  });
  test('a record for which none says anything is left out wherever', () => {
    expect(
      judge({ c1: '', c2: 'Ines', c3: '' }, { stamps, on: { ...piece, elements: [] } }).overall,
    ).toBe('out');
  });
});

describe('what is made of the codes alone', () => {
  const misfit = { ...second, symbology: 'ean-13' as const };
  const long = 'Bartholomew Featherstonehaugh-Winterbourne of Long Strand and Eelmouth';
  const codes = (values: Record<string, string>, more: Parameters<typeof judge>[1] = {}) => {
    const verdict = judge(values, more);
    return [verdict.overall, verdict.codes];
  };
  test('is not held back by what is wrong on the piece', () => {
    expect(codes({ c1: 'DH-1', c2: long, c3: '' })).toEqual(['look', 'ready']);
  });
  test('is held back by any stamp that does not fit, on the piece or not', () => {
    expect(codes({ c1: 'DH-1', c2: 'Ines', c3: 'k7' }, { stamps: [first, misfit] })).toEqual([
      'ready',
      'look',
    ]);
  });
  test('goes without a stamp that is blank, and without the record where all are', () => {
    const stamps = [first, second];
    expect(codes({ c1: 'DH-1', c2: 'Ines', c3: '' }, { stamps, on: withPass })).toEqual([
      'out',
      'ready',
    ]);
    expect(codes({ c1: '', c2: 'Ines', c3: '' }, { stamps })).toEqual(['out', 'out']);
  });
  test('is held back by a repeated key and by a code that another record has', () => {
    const values = { c1: 'DH-1', c2: 'Ines', c3: 'k7' };
    const facts = (more: Partial<RowFacts>) => ({ facts: { ...noRowFacts, ...more } });
    expect(codes(values, facts({ repeated: true }))).toEqual(['look', 'look']);
    expect(
      codes(values, { stamps: [first, second], ...facts({ sameCode: new Set([second.id]) }) }),
    ).toEqual(['ready', 'look']);
  });
});

describe('measures of label stock', () => {
  test('those of the catalogue can all be printed', () => {
    for (const s of stocks) expect([s.id, stockTroubles(s)]).toEqual([s.id, []]);
  });
  test('are refused exactly where a place leaves the sheet or two lie over each other', () => {
    const mm = (min: number, max: number) =>
      fc.integer({ min: min * 10, max: max * 10 }).map((n) => n / 10);
    const any = fc
      .record({
        page: fc.record({ width: mm(60, 220), height: mm(60, 300) }),
        columns: fc.integer({ min: 1, max: 4 }),
        rows: fc.integer({ min: 1, max: 6 }),
        piece: fc.record({ width: mm(10, 100), height: mm(10, 80) }),
        margin: fc.record({ left: mm(0, 20), top: mm(0, 20) }),
        pitch: fc.record({ x: mm(8, 110), y: mm(8, 90) }),
      })
      .map((measures): Stock => ({ id: 'any', name: 'any', cornerRadius: 0, ...measures }));
    let refused = 0;
    fc.assert(
      fc.property(any, (s) => {
        const places = Array.from({ length: placesOn(s) }, (_, i) =>
          placeOnStock(s, i, 1, 'across'),
        );
        const slack = 0.051;
        const off = places.some(
          (p) =>
            p.x + s.piece.width > s.page.width + slack ||
            p.y + s.piece.height > s.page.height + slack,
        );
        const over = places.some((a, i) =>
          places.some(
            (b, k) =>
              k > i &&
              Math.abs(a.x - b.x) < s.piece.width - slack &&
              Math.abs(a.y - b.y) < s.piece.height - slack,
          ),
        );
        if (off || over) refused++;
        expect(stockTroubles(s).length > 0).toBe(off || over);
      }),
      { numRuns: 400 },
    );
    expect(refused).toBeGreaterThan(50);
    expect(refused).toBeLessThan(400);
  });
});

describe('trouble that matters', () => {
  const product: Column = { id: 'c4', name: 'Product no', role: 'product' };
  const all = [...columns, product];
  const judged = (values: Record<string, string>, more: Parameters<typeof judgeRow>[0]) =>
    judgeRow(more, all, values, noRowFacts, fonts);
  const wrong = { c1: 'DH-1', c2: 'Ines', c3: '', c4: '2000411000018' };
  test('a wrong check digit that neither stamp nor piece uses is shown and holds nothing back', () => {
    const verdict = judged(wrong, { stamps: [first], piece });
    expect(verdict.problems.map((p) => p.kind)).toEqual(['check-digit']);
    expect(verdict.notes).toHaveLength(1);
    expect(marks(verdict)).toEqual(['look', 'ready', 'ready', 'ready']);
  });
  test('on the piece, in a stamp on it, in what a worked column is made from, or as the number of copies it does', () => {
    const words: Piece = {
      ...piece,
      elements: [
        ...piece.elements,
        {
          ...piece.elements.find((e) => e.kind === 'text')!,
          id: 'no',
          parts: [{ kind: 'column', column: 'c4' }],
          y: 3,
        } as Piece['elements'][number],
      ],
    };
    expect(judged(wrong, { stamps: [first], piece: words }).overall).toBe('look');
    expect(
      judged(wrong, { stamps: [{ ...first, parts: [{ kind: 'column', column: 'c4' }] }], piece })
        .overall,
    ).toBe('look');
    const worked: Column = {
      id: 'w5',
      name: 'Tag',
      role: 'text',
      worked: { source: { kind: 'join', parts: [{ kind: 'column', column: 'c4' }] }, steps: [] },
    };
    const tag = { ...first, parts: [{ kind: 'column' as const, column: 'w5' }] };
    expect(
      judgeRow({ stamps: [tag], piece }, [...all, worked], { ...wrong, w5: 'x' }, noRowFacts, fonts)
        .overall,
    ).toBe('look');
    expect(
      judged(wrong, {
        stamps: [{ ...second, parts: [{ kind: 'column', column: 'c4' }] }, first],
        piece,
      }).overall,
    ).toBe('ready');
  });
  test('a number of copies that is none is trouble', () => {
    const copies = (said: string) =>
      judged(
        { ...wrong, c4: '', c3: said },
        { stamps: [first], piece, options: { copiesFrom: 'c3' } },
      );
    for (const said of ['', '0', '3', ' 2 ', '2.0', '1,000', '0012'])
      expect([said, copies(said).overall]).toEqual([said, 'ready']);
    for (const said of ['1.5', '-1', 'x', '1.000', '1001', '10,00', '1e3'])
      expect([said, copies(said).overall, copies(said).notes.at(-1)?.text]).toEqual([
        said,
        'look',
        expect.stringContaining(`says “${said}”`),
      ]);
  });
});
