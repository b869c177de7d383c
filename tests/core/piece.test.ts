import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { firstStamp } from '../../src/core/payload/stamp';
import { FontBook, fontCatalogue, fontKeys, fontsFor } from '../../src/core/piece/fonts';
import { firstPiece, makePiece, wordProblems } from '../../src/core/piece/piece';
import { placeOnStock, placesOn, sheetsFor, stockById, stocks } from '../../src/core/piece/stock';
import { fitText, type TextStyle } from '../../src/core/piece/text';
import { cutChunks, safeFileName } from '../../src/core/run/plan';
import { measure } from '../../src/core/look/layout';
import { encode } from '../../src/core';
import { fontBook } from '../../src/server/fonts';
import type { Column } from '../../src/core/records/columns';

let fonts: FontBook;
beforeAll(() => {
  fonts = fontBook(fontCatalogue.map((f) => f.key));
});

const style: TextStyle = { font: 'bricolage-bold', sizePt: 20, minPt: 12, lines: 2, align: 'left', colour: '#000000' };
const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
];

describe('typefaces', () => {
  test('text put together from pairs equals the full shaper, for every typeface', () => {
    for (const key of fontKeys) {
      const face = fonts.font(key);
      fc.assert(
        fc.property(
          fc.string({ unit: fc.integer({ min: 32, max: 126 }).map((c) => String.fromCharCode(c)), minLength: 1, maxLength: 24 }),
          (text) => {
            const quick = face.shape(text).map((g) => [g.id, g.advance]);
            expect(quick).toEqual(face.shapeFully(text, 'ltr').map((g) => [g.id, g.advance]));
          },
        ),
        { numRuns: 120 },
      );
    }
  });

  test('glyphs keep their text, whatever was drawn or embedded before', () => {
    const book = new FontBook();
    const file = fontCatalogue.find((f) => f.key === 'atkinson')!.file;
    book.add('atkinson', readFileSync(`node_modules/${file}`));
    const face = book.font('atkinson');
    // accented letters are made of others, which drawing and embedding bring along
    const subset = face.source.createSubset() as unknown as { includeGlyph(id: number): number; encode(): Uint8Array };
    for (let id = 0; id < face.source.numGlyphs; id++) {
      face.flatOutline(id);
      subset.includeGlyph(id);
    }
    subset.encode();
    for (const text of ['Lamp 00100', 'Søren Ågård', 'Dvořák Jiřina'])
      expect(
        face
          .shape(text)
          .map((g) => g.text)
          .join(''),
      ).toBe(text);
  });

  test('every script of the volunteers’ names is covered, and what is not is named', () => {
    for (const name of [
      'Σοφία Καρρά',
      'Keiko Marsh 桂子',
      'Елена Морозко',
      'דניאל שחר',
      'سلمى نور',
      'अनन्या राव',
      'Gül Şafak',
      'Þórdís Hvönn',
      '김하늘',
      '们 张伟',
    ]) {
      expect(fontsFor(name, 'bricolage-bold').every((key) => fonts.has(key))).toBe(true);
      expect([name, fitText(name, style, 0, 0, 80, fonts).unprintable]).toEqual([name, []]);
    }
    // the same character in Japanese, Chinese and Korean form comes from three typefaces
    const faceOf = (han?: 'noto-jp' | 'noto-sc' | 'noto-kr') => fitText('直', { ...style, han }, 0, 0, 80, fonts).items[0].font;
    expect([faceOf(), faceOf('noto-sc'), faceOf('noto-kr')]).toEqual(['noto-jp', 'noto-sc', 'noto-kr']);
    expect(fitText('ꦗꦮ and ok', style, 0, 0, 80, fonts).unprintable).toEqual(['ꦗ', 'ꦮ']);
  });
});

describe('words in a box', () => {
  test('short words keep their size, long ones shrink, longer ones run over by a number of letters', () => {
    expect(fitText('Tam Bellweather', style, 0, 0, 50, fonts)).toMatchObject({ sizePt: 20, over: 0 });
    const shrunk = fitText('Bartholomew Featherstone', style, 0, 0, 40, fonts);
    expect(shrunk.over).toBe(0);
    expect(shrunk.sizePt).toBeLessThan(20);
    expect(fitText('Bartholomew Featherstonehaugh-Winterbourne', style, 0, 0, 30, fonts).over).toBeGreaterThan(5);
  });

  test('alignment moves the line inside its box', () => {
    const widthOf = (align: TextStyle['align']) => fitText('Wren', { ...style, align }, 10, 0, 60, fonts).items[0].x;
    expect(widthOf('left')).toBe(10);
    expect(widthOf('centre')).toBeGreaterThan(20);
    expect(widthOf('right') - 10).toBeCloseTo(2 * (widthOf('centre') - 10), 6);
  });

  test('Hebrew runs from right to left beside Latin', () => {
    const { items } = fitText('Ada דניאל', { ...style, lines: 1 }, 0, 0, 90, fonts);
    const hebrew = items.find((i) => i.font === 'noto-hebrew')!;
    expect(items[0].font).toBe('bricolage-bold');
    expect(hebrew.glyphs.map((g) => g.text).join('')).toBe('לאינד');
  });
});

describe('stock', () => {
  test('every place lies on its page and no two overlap', () => {
    for (const stock of stocks) {
      const places = Array.from({ length: placesOn(stock) }, (_, i) => placeOnStock(stock, i, 1, 'across'));
      for (const { x, y } of places) {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(y).toBeGreaterThanOrEqual(0);
        expect(x + stock.piece.width).toBeLessThanOrEqual(stock.page.width + 1e-9);
        expect(y + stock.piece.height).toBeLessThanOrEqual(stock.page.height + 1e-9);
      }
      expect(new Set(places.map((p) => `${p.x.toFixed(3)},${p.y.toFixed(3)}`)).size).toBe(places.length);
      expect(stock.pitch.x).toBeGreaterThanOrEqual(stock.piece.width - 1e-9);
    }
  });

  test('a run on a started sheet begins at that place and goes on over the pages', () => {
    const stock = stockById('a4-21');
    expect(placeOnStock(stock, 0, 5, 'across')).toMatchObject({ page: 0, place: 4 });
    expect(placeOnStock(stock, 17, 5, 'across')).toMatchObject({ page: 1, place: 0 });
    expect(placeOnStock(stock, 1, 1, 'down').y).toBeGreaterThan(placeOnStock(stock, 0, 1, 'down').y);
    expect(sheetsFor(stock, 17, 5)).toBe(1);
    expect(sheetsFor(stock, 18, 5)).toBe(2);
  });

  test('chunks cover every piece once, on whole sheets', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 1, max: 21 }), (pieces, start) => {
        const stock = stockById('a4-21');
        const chunks = cutChunks(stock, pieces, start);
        let next = 0;
        let page = 0;
        for (const chunk of chunks) {
          expect([chunk.from, chunk.firstPage]).toEqual([next, page]);
          for (let i = chunk.from; i < chunk.to; i++) {
            const at = placeOnStock(stock, i, start, 'across').page;
            if (at < chunk.firstPage || at >= chunk.firstPage + chunk.pages) throw new Error(`piece ${i} lies on page ${at}`);
          }
          next = chunk.to;
          page += chunk.pages;
        }
        expect([next, page]).toEqual([pieces, sheetsFor(stock, pieces, start)]);
      }),
    );
  });

  test('file names are safe everywhere', () => {
    expect(safeFileName('Badges: open/weekend…')).toBe('Badges-open-weekend');
    expect(safeFileName('Σοφία 桂子')).toBe('Σοφία-桂子');
    expect(safeFileName('//')).toBe('run');
  });
});

describe('the piece of a record', () => {
  const stamp = firstStamp(columns);
  const stock = stockById('a4-21');
  const piece = firstPiece(stock, stamp, columns);

  test('holds its code inside the place given to it, in whole dots', () => {
    const made = makePiece(piece, stock, [stamp], { c1: 'DH-0142', c2: 'Ines Okafor-Lindqvist' }, fonts);
    const element = piece.elements.find((e) => e.kind === 'stamp')!;
    const [code] = made.codes;
    expect(code.width).toBeLessThanOrEqual(element.kind === 'stamp' ? element.sizeMm : 0);
    expect((code.moduleMm * code.dpi) / 25.4).toBeCloseTo(Math.round((code.moduleMm * code.dpi) / 25.4), 9);
    expect(made.problems).toEqual([]);
  });

  test('says what is wrong with it, with and without drawing the code', () => {
    const values = { c1: '', c2: 'Bartholomew Featherstonehaugh-Winterbourne of Long Strand and Eelmouth' };
    const made = makePiece(piece, stock, [stamp], values, fonts);
    expect(made.problems.map((p) => p.kind)).toEqual(['no-code', 'over']);
    expect(wordProblems(piece, stock, [stamp], values, fonts).map((p) => p.kind)).toEqual(['over']);
    const outside = { ...piece, elements: piece.elements.map((e) => ({ ...e, x: 60 })) };
    expect(wordProblems(outside, stock, [stamp], { c1: 'A', c2: 'B' }, fonts).map((p) => p.kind)).toContain('edge');
  });

  test('whole dots make a code a little smaller than asked, never larger', () => {
    const symbol = encode('qr', 'https://marrambay.example/v/DH-0142');
    fc.assert(
      fc.property(fc.double({ min: 8, max: 80, noNaN: true }), fc.constantFrom(203, 300, 600), (sizeMm, dpi) => {
        const m = measure(symbol, { ...stamp.look, sizeMm, dpi });
        expect(Number.isInteger(m.dots)).toBe(true);
        if (m.dots > 1) expect(m.widthMm).toBeLessThanOrEqual(sizeMm + 1e-9);
        expect(m.moduleMm).toBeCloseTo((m.dots * 25.4) / dpi, 9);
      }),
    );
  });
});
