import { freeName } from '../../../src/core/run/names';
import * as fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { keepPiece, pieceFor } from '../../../src/core/piece/kept';
import { fontsFor } from '../../../src/core/artwork/font-catalogue';
import { FontBook } from '../../../src/core/artwork/fonts';
import { makePiece } from '../../../src/core/piece/piece';
import { sidesOf, type Piece } from '../../../src/core/piece/model';
import { wordProblems } from '../../../src/core/piece/weighing';
import {
  placeOnStock,
  placesOn,
  stockById,
  stockOf,
  stocks,
  stockTroubles,
} from '../../../src/core/piece/stock';
import { starters } from '../../../src/core/piece/starters';
import { firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import type { Column } from '../../../src/core/records/columns';
import { FileNames, safeName } from '../../../src/core/run/names';
import { chunksOf, cropMarks, markMargin, SheetBuilder } from '../../../src/core/run/plan';
import { fontBook } from '../../../src/server/platform/fonts';

const columns: Column[] = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Site', role: 'text' },
];
const stamp: Stamp = firstStamp(columns);
const values = { c1: 'DH-0142', c2: 'Ines Okafor', c3: 'Dune House' };
const fonts = fontBook(['atkinson', 'atkinson-bold', 'bricolage-bold', 'mono']);

describe('label stock', () => {
  test.each(stocks.map((s) => [s.id, s] as const))(
    '%s: every place lies on its page and none over another',
    (_, stock) => {
      expect(stockTroubles(stock)).toEqual([]);
      const places = Array.from({ length: placesOn(stock) }, (_unused, i) =>
        placeOnStock(stock, i, 1, 'across'),
      );
      for (const p of places) {
        expect(p.x).toBeGreaterThanOrEqual(-0.01);
        expect(p.x + stock.piece.width).toBeLessThanOrEqual(stock.page.width + 0.01);
        expect(p.y + stock.piece.height).toBeLessThanOrEqual(stock.page.height + 0.01);
      }
    },
  );

  test('measures that cannot be printed are refused in words', () => {
    const stock = stockById('a4-21');
    expect(stockTroubles({ ...stock, columns: 4 })).toEqual([
      'The last column goes over the edge of the sheet by 58.8 mm.',
    ]);
    expect(stockTroubles({ ...stock, pitch: { x: 60, y: 38.1 } })[0]).toMatch(
      /overlap: a new one starts every 60 mm .* each is 63.5 mm wide/,
    );
    expect(stockTroubles({ ...stock, rows: 8 })[0]).toMatch(/last row goes over the edge/);
  });
});

describe('starters', () => {
  test.each(starters.map((s) => [s.id, s] as const))(
    '%s: fits its stock with a code and a common name, on every side',
    (_, starter) => {
      const piece = starter.make(stamp, columns);
      const stock = stockOf(piece);
      const sides = sidesOf(piece).map((side) =>
        makePiece(piece, stock, [stamp], values, fonts, { side }),
      );
      expect(sides.flatMap((made) => made.problems)).toEqual([]);
      expect(sides.flatMap((made) => made.codes)).toHaveLength(1);
      expect(new Set(piece.elements.map((e) => e.id)).size).toBe(piece.elements.length);
    },
  );

  test('bars have room on the shelf label too', () => {
    const bars: Stamp = { ...stamp, symbology: 'code-128' };
    const piece = starters.find((s) => s.id === 'shelf')!.make(bars, columns);
    expect(makePiece(piece, stockOf(piece), [bars], values, fonts).problems).toEqual([]);
  });

  test('a kept piece finds its columns in another list by name, then by kind, and leaves out what is missing', () => {
    const piece = starters.find((s) => s.id === 'badge')!.make(stamp, columns);
    const other: Column[] = [
      { id: 'x1', name: 'Tag', role: 'key' },
      { id: 'x2', name: 'name', role: 'text' },
    ];
    const made = pieceFor(keepPiece(piece, columns, [stamp]), other, [{ id: 'other-stamp' }]);
    expect(
      made.elements.map((e) => [
        e.id,
        e.kind === 'text' ? e.parts : e.kind === 'stamp' ? e.stamp : '',
      ]),
    ).toEqual([
      ['name', [{ kind: 'column', column: 'x2' }]],
      ['key', [{ kind: 'column', column: 'x1' }]],
      ['code', 'other-stamp'],
    ]);
  });
});

describe('what is wrong on a piece', () => {
  const stock = stockById('a4-21');
  const code = { kind: 'stamp' as const, id: 'code', stamp: stamp.id, x: 20, y: 8, sizeMm: 20 };
  const kinds = (piece: Piece, row: Record<string, string> = values) =>
    makePiece(piece, stock, [stamp], row, fonts).problems.map((p) => p.kind);

  test('a code too near the edge, too small, or with something over it', () => {
    expect(kinds({ stock: 'a4-21', elements: [code] })).toEqual([]);
    expect(kinds({ stock: 'a4-21', elements: [{ ...code, x: 0.2 }] })).toEqual(['close']);
    expect(kinds({ stock: 'a4-21', elements: [{ ...code, sizeMm: 6 }] })).toEqual(['small']);
    const box = {
      kind: 'box' as const,
      id: 'box',
      x: 18,
      y: 5,
      width: 10,
      height: 8,
      fill: '#ffffff',
    };
    expect(kinds({ stock: 'a4-21', elements: [code, box] })).toEqual(['close']);
    // under the code it is its ground
    expect(kinds({ stock: 'a4-21', elements: [box, code] })).toEqual([]);
  });

  test('the quick look over whole lists finds the same as the drawing', () => {
    const long = {
      ...values,
      c1: 'x'.repeat(150),
      c2: 'Bartholomew Featherstonehaugh-Winterbourne the Elder of Long Strand',
    };
    const piece: Piece = { ...starters.find((s) => s.id === 'asset-tag')!.make(stamp, columns) };
    for (const row of [values, long]) {
      const drawn = makePiece(piece, stock, [stamp], row, fonts).problems.map((p) => p.kind);
      expect(
        wordProblems(piece, stock, [stamp], row, fonts)
          .map((p) => p.kind)
          .sort(),
      ).toEqual(drawn.sort());
    }
  });

  test('quarter turns of one code add to those of its look, and the code keeps its size', () => {
    const bars: Stamp = { ...stamp, symbology: 'code-128', look: { ...stamp.look, turn: 90 } };
    const made = (turn?: 90 | 180 | 270) =>
      makePiece(
        { stock: 'a5-sign', elements: [{ ...code, sizeMm: 60, x: 60, y: 40, turn }] },
        stockById('a5-sign'),
        [bars],
        values,
        fonts,
      ).codes[0];
    const [upright, more] = [made(), made(90)];
    expect([more!.width, more!.height]).toEqual([
      expect.closeTo(upright!.height, 5),
      expect.closeTo(upright!.width, 5),
    ]);
    expect(more!.moduleMm).toBe(upright!.moduleMm);
  });
});

describe('sheets', () => {
  test('backs lie mirrored, so that they meet their fronts when the sheet is turned over', () => {
    const stock = stockById('a4-10');
    const sheets = new SheetBuilder(stock, 1, 'across', { firstPage: 0, pages: 1 }, 2);
    const dot = { kind: 'rect' as const, x: 0, y: 0, width: 1, height: 1, fill: '#000000' };
    const [front, back] = [sheets.add(0, [dot], 0), sheets.add(0, [dot], 1)];
    expect([front.page, back.page]).toEqual([0, 1]);
    expect(back.x).toBeCloseTo(stock.page.width - front.x - stock.piece.width, 6);
    expect(sheets.pages.map((p) => p.items.length)).toEqual([1, 1]);
  });

  test('marks for cutting stand outside the page, at every edge of its places', () => {
    const stock = stockById('a4-10');
    const marks = cropMarks(stock).flatMap((m) => (m.kind === 'rect' ? [m] : []));
    expect(marks).toHaveLength(2 * 3 + 2 * 6);
    for (const m of marks) {
      const inside =
        m.x + m.width > markMargin &&
        m.x < markMargin + stock.page.width &&
        m.y + m.height > markMargin &&
        m.y < markMargin + stock.page.height;
      expect(inside).toBe(false);
    }
  });

  test('chunks of every kind of run cover all pieces once', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3000 }),
        fc.constantFrom('pdf', 'images', 'csv'),
        (pieces, kind) => {
          const chunks = chunksOf(
            {
              piece: { stock: 'a4-21' },
              options: { start: 1, order: 'across', copies: 1 },
              output: { kind },
            },
            pieces,
          );
          expect(chunks[0]!.from).toBe(0);
          expect(chunks.at(-1)?.to).toBe(pieces);
          chunks.slice(1).forEach((chunk, i) => expect(chunk.from).toBe(chunks[i]!.to));
        },
      ),
    );
  });
});

describe('file names', () => {
  test.each([
    ['Ines / Bell: "x"', 'Ines - Bell- -x'],
    ['  .hidden. ', 'hidden'],
    ['CON', 'CON-'],
    ['', 'unnamed'],
    ['桂子 Marsh', '桂子 Marsh'],
    ['a\u202etxt.exe', 'atxt.exe'],
    ['../../../etc/passwd', 'etc-passwd'],
  ])('%j becomes %j', (text, name) => expect(safeName(text)).toBe(name));

  test('any texts give names that every system takes and that are unlike each other', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ unit: 'grapheme', maxLength: 150 }), { maxLength: 40 }),
        (texts) => {
          const names = new FileNames();
          const given = texts.map((text) => names.take(text));
          expect(new Set(given.map((n) => n.toLowerCase())).size).toBe(texts.length);
          for (const name of given) expect(name).toMatch(/^[^\\/:*?"<>|\x00-\x1f]+$/);
          for (const name of given) expect(name).not.toMatch(/^[ .]|[ .]$/);
        },
      ),
    );
  });
});

test('a list of fonts is only what a text needs', () => {
  expect(fontsFor('Ines', 'atkinson')).toEqual(['atkinson']);
  expect(fontsFor('桂', 'atkinson', 'noto-sc')).toEqual(['atkinson', 'noto-sc']);
  expect(new FontBook().has('atkinson')).toBe(false);
});

test('a name that is taken gets a number, whatever its case', () => {
  expect(freeName('Badges', [])).toBe('Badges');
  expect(freeName('Badges', ['badges', 'Badges (2)'])).toBe('Badges (3)');
});
