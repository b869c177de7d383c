import { beforeAll, describe, expect, test } from 'vitest';
import { pageContent, type GlyphUse } from '../../../src/core/artwork/pdf';
import { rasterise } from '../../../src/core/artwork/raster';
import { drawingToSvgElements } from '../../../src/core/artwork/svg';
import { firstStamp } from '../../../src/core/payload/stamp';
import { fontCatalogue } from '../../../src/core/artwork/font-catalogue';
import type { FontBook } from '../../../src/core/artwork/fonts';
import { makePiece } from '../../../src/core/piece/piece';
import type { Piece } from '../../../src/core/piece/model';
import { firstPiece } from '../../../src/core/piece/starters';
import { restocked } from '../../../src/core/piece/restock';
import { aboutStock, stockById, stocks } from '../../../src/core/piece/stock';
import { stockIs } from '../../../src/core/piece/stock-search';
import { readBack } from '../../../src/core/readback/readback';
import type { Column } from '../../../src/core/records/columns';
import {
  clippedPiece,
  copiesOf,
  finishedPages,
  movedCode,
  reachOf,
  SheetBuilder,
} from '../../../src/core/run/plan';
import { fontBook } from '../../../src/server/platform/fonts';
import { provideReader } from '../../../src/server/platform/reader';

let fonts: FontBook;
beforeAll(() => {
  fonts = fontBook(fontCatalogue.filter((f) => !f.scripts).map((f) => f.key));
  provideReader();
});
const columns: Column[] = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
];
const stamp = firstStamp(columns);
const stock = stockById('a4-21');
const plain = firstPiece(stock, stamp, columns);
/** Words as wide as a hand, which begin near the right edge and end on the piece beside it. */
const words: Piece['elements'][number] = {
  kind: 'text',
  id: 'long',
  x: 2,
  y: 14,
  parts: [{ kind: 'column', column: 'c2' }],
  font: 'bricolage-bold',
  sizePt: 40,
  minPt: 40,
  lines: 1,
  width: 200,
  align: 'left',
  colour: '#000000',
};
const values = (n: number) => ({ c1: `DH-${n}`, c2: n === 1 ? 'W'.repeat(40) : '' });

describe('a piece is clipped to its place', () => {
  const sheet = (reach?: { x: number; y: number }) => {
    const sheets = new SheetBuilder(stock, 1, 'across', { firstPage: 0, pages: 1 });
    const codes = [0, 1, 2, 3].flatMap((n) => {
      const piece = n === 1 ? { ...plain, elements: [words] } : plain;
      const made = makePiece(piece, stock, [stamp], values(n), fonts);
      const { x, y } = sheets.add(n, made.items);
      if (reach)
        sheets.pages[0]!.items[n] = {
          ...clippedPiece(stock, [], reach),
          ...sheets.pages[0]!.items[n],
        };
      return made.codes.map((code) => movedCode(code, x, y));
    });
    return { page: sheets.pages[0], codes };
  };
  test('words that run over it leave the neighbours’ codes readable', async () => {
    const { page, codes } = sheet();
    expect(codes).toHaveLength(3);
    for (const code of codes)
      expect((await readBack(page!.items, code, fonts)).result).toBe('read');
  });
  test('what lies over a code of another piece is found when it is not clipped', async () => {
    const { page, codes } = sheet();
    const bare = page!.items.flatMap((item) => (item.kind === 'clip' ? item.items : [item]));
    const results = await Promise.all(
      codes.map(async (code) => (await readBack(bare, code, fonts)).result),
    );
    expect(results).toContain('unread');
  });
  test('marks for cutting and a printer’s offset belong to the finished page', async () => {
    const { page, codes } = sheet();
    const { pages, shift } = finishedPages([page!], stock, {
      marks: true,
      offset: { x: 1.3, y: -0.7 },
    });
    expect(shift).toEqual({ x: 9.3, y: 7.3 });
    expect(pages[0]!.widthMm).toBe(226);
    for (const code of codes)
      expect(
        (await readBack(pages[0]!.items, movedCode(code, shift.x, shift.y), fonts)).result,
      ).toBe('read');
    const cover = {
      kind: 'rect' as const,
      x: codes[0]!.x + 9.3,
      y: codes[0]!.y + 7.3,
      width: 24,
      height: 12,
      fill: '#000000',
    };
    expect(
      (await readBack([...pages[0]!.items, cover], movedCode(codes[0]!, shift.x, shift.y), fonts))
        .result,
    ).toBe('unread');
  });
  test('into the bleed it may reach, but not over half of the gutter', () => {
    for (const some of stocks) {
      const { x, y } = reachOf(some);
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThanOrEqual(
        some.columns > 1 ? Math.max(0, (some.pitch.x - some.piece.width) / 2) : (some.bleed ?? 0),
      );
      expect(y).toBeLessThanOrEqual(
        some.rows > 1 ? Math.max(0, (some.pitch.y - some.piece.height) / 2) : (some.bleed ?? 0),
      );
    }
    expect(reachOf(stockById('card'))).toEqual({ x: 1, y: 1 });
  });
  test('in every drawing: dots, PDF and SVG', () => {
    const dark = { kind: 'rect' as const, x: -5, y: -5, width: 30, height: 30, fill: '#000000' };
    const clip = { kind: 'clip' as const, x: 2, y: 3, width: 4, height: 5, items: [dark] };
    const image = rasterise([clip], { x: 0, y: 0, width: 10, height: 10 }, 254);
    const inked = image.pixels.reduce((sum, v) => sum + (v === 0 ? 1 : 0), 0);
    expect(inked).toBe(40 * 50);
    expect([
      image.pixels[30 * 100 + 20],
      image.pixels[29 * 100 + 20],
      image.pixels[30 * 100 + 19],
    ]).toEqual([0, 255, 255]);
    const used: GlyphUse = new Map();
    const text = new TextDecoder().decode(
      pageContent({ widthMm: 10, heightMm: 10, items: [clip, dark] }, fonts, used),
    );
    expect(text).toContain('q 2 3 4 5 re W n\n0 g\n-5 -5 30 30 re f\nQ\n0 g\n');
    expect(drawingToSvgElements([clip])).toMatch(
      /^<svg x="2" y="3" width="4" height="5" viewBox="2 3 4 5" overflow="hidden"><rect/,
    );
  });
});

describe('another stock', () => {
  const two: Piece = {
    ...plain,
    sides: 2,
    elements: [...plain.elements, { ...words, id: 'back', side: 'back', width: 40 }],
  };
  test('keeps both sides and everything on them', () => {
    for (const to of stocks) {
      const after = restocked(two, stock, to);
      expect(after.map((e) => [e.id, e.kind, e.side])).toEqual(
        two.elements.map((e) => [e.id, e.kind, e.side]),
      );
      for (const e of after)
        expect([to.id, e.x < to.piece.width, e.y < to.piece.height]).toEqual([to.id, true, true]);
    }
  });
  test('as it is where it fits, smaller as a whole where it does not', () => {
    expect(restocked(two, stock, stockById('a5-sign'))).toBe(two.elements);
    const small = restocked(two, stock, stockById('a4-65'));
    const code = small.find((e) => e.kind === 'stamp')!;
    expect(code.kind === 'stamp' && code.x + code.sizeMm).toBeLessThanOrEqual(38.1);
  });
});

test('numbers of copies are read as people write them', () => {
  expect(['', '0', '2.0', '1,000', ' 7 ', '1.00'].map(copiesOf)).toEqual([1, 0, 2, 1000, 7, 1]);
  expect(['1.5', '-1', 'x', '1.000', '1,00', '1001', '٣'].map(copiesOf)).toEqual(
    Array(7).fill(undefined),
  );
});

describe('label stock is found by what people have in hand', () => {
  const found = (query: string) =>
    stocks.filter((s) => stockIs(s, aboutStock(s), query)).map((s) => s.id);
  test.each([
    ['63.5', ['a4-21']],
    ['63,5 mm', ['a4-21']],
    ['2 5/8 in', ['letter-30']],
    ['2⅝"', ['letter-30']],
    ['4 x 2 in', ['letter-10']],
    ['99.1 × 67.7', ['a4-8']],
    ['21', ['a4-21', 'a4-65']],
    ['roll', ['roll-57-32', 'roll-100-50', 'roll-100-150']],
    ['badges', ['a4-10', 'a4-8', 'letter-8', 'card']],
    ['postcards 6 x 4', ['postcard-6-4']],
    ['a6', ['a4-4', 'a6-postcard', 'a6-sign']],
    ['4711', []],
  ])('%s', (query, wanted) => expect(found(query)).toEqual(wanted));
  test('nothing asked is everything', () => expect(found('  ')).toHaveLength(stocks.length));
});
