import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { beforeAll, describe, expect, test } from 'vitest';
import { firstStamp } from '../../../src/core/payload/stamp';
import { fontCatalogue, fontKeys, fontsFor } from '../../../src/core/artwork/font-catalogue';
import { FontBook } from '../../../src/core/artwork/fonts';
import { makePiece, type PieceProblem } from '../../../src/core/piece/piece';
import type { PieceElement } from '../../../src/core/piece/model';
import { firstPiece } from '../../../src/core/piece/starters';
import { wordProblems } from '../../../src/core/piece/weighing';
import {
  placeOnStock,
  placesOn,
  sheetsFor,
  stockById,
  stocks,
} from '../../../src/core/piece/stock';
import {
  fitText,
  mostLetters,
  textMends,
  weighText,
  type TextStyle,
} from '../../../src/core/piece/text';
import { readBack } from '../../../src/core/readback/readback';
import { cutChunks, safeFileName } from '../../../src/core/run/plan';
import { measure } from '../../../src/core/look/layout';
import { encode } from '../../../src/core';
import { fontBook } from '../../../src/server/platform/fonts';
import { provideReader } from '../../../src/server/platform/reader';
import type { Column } from '../../../src/core/records/columns';

let fonts: FontBook;
beforeAll(() => {
  fonts = fontBook(fontCatalogue.map((f) => f.key));
});

const style: TextStyle = {
  font: 'bricolage-bold',
  sizePt: 20,
  minPt: 12,
  lines: 2,
  align: 'left',
  colour: '#000000',
};
const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
];

describe('one long value', () => {
  test.each([
    ['letters without a space', 'W'.repeat(19_000)],
    ['words', 'some words '.repeat(1_800)],
    ['Devanagari', 'नमस्ते'.repeat(3_000)],
    ['marks on one letter', `e${'\u0301'.repeat(19_000)}`],
    ['invisible characters', `${'\u200b'.repeat(19_000)}a`],
    ['two directions', 'a ש '.repeat(4_800)],
  ])('%s: weighed within its bound, and what is beyond it counts as over', (_, text) => {
    const weighed = weighText(text, style, 0, 60, fonts);
    expect(weighed.over).toBeGreaterThan(0);
    const drawn = fitText(text, style, 0, 0, 60, fonts);
    expect(drawn.over).toBe(weighed.over);
    expect(drawn.items.flatMap((item) => item.glyphs).length).toBeLessThanOrEqual(4 * mostLetters);
    expect(textMends(text, style, 60, fonts)).toEqual([]);
  });

  test('the size found by halves is the largest that fits', () => {
    fc.assert(
      fc.property(
        fc.array(fc.string({ minLength: 1, maxLength: 9 }), { minLength: 1, maxLength: 12 }),
        fc.integer({ min: 10, max: 90 }),
        (words, width) => {
          const text = words.join(' ');
          const { sizePt, over } = weighText(text, style, 0, width, fonts);
          for (let size = style.sizePt; size > sizePt; size -= 0.5)
            expect(
              weighText(text, { ...style, sizePt: size, minPt: size }, 0, width, fonts).over,
            ).toBeGreaterThan(0);
          const alone = { ...style, sizePt, minPt: sizePt };
          expect(weighText(text, alone, 0, width, fonts).over).toBe(over);
        },
      ),
    );
  });
});

describe('typefaces', () => {
  test('text put together from pairs equals the full shaper, for every typeface', () => {
    for (const key of fontKeys) {
      const face = fonts.font(key);
      fc.assert(
        fc.property(
          fc.string({
            unit: fc.integer({ min: 32, max: 126 }).map((c) => String.fromCharCode(c)),
            minLength: 1,
            maxLength: 24,
          }),
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
    const subset = face.source.createSubset() as unknown as {
      includeGlyph(id: number): number;
      encode(): Uint8Array;
    };
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
    const faceOf = (han?: 'noto-jp' | 'noto-sc' | 'noto-kr', font = 'atkinson') =>
      fitText('直', { ...style, font, han }, 0, 0, 80, fonts).items[0]!.font;
    expect([faceOf(), faceOf('noto-sc'), faceOf('noto-kr')]).toEqual([
      'noto-jp',
      'noto-sc',
      'noto-kr',
    ]);
    expect(faceOf('noto-kr', 'bricolage-bold')).toBe('noto-kr-bold');
    expect(fitText('ꦗꦮ and ok', style, 0, 0, 80, fonts).unprintable).toEqual(['ꦗ', 'ꦮ']);
  });
});

describe('words in a box', () => {
  test('are weighed as they are set, in every typeface', () => {
    const letter = fc.oneof(
      fc.integer({ min: 0x20, max: 0x7e }).map((c) => String.fromCharCode(c)),
      fc.constantFrom(
        'é',
        'ß',
        'ﬁ',
        'Ж',
        'ש',
        'ع',
        '桂',
        '김',
        'ꦗ',
        '\n',
        '\t',
        '\u00a0',
        '\u200d',
      ),
    );
    for (const font of fontKeys)
      fc.assert(
        fc.property(
          fc.string({ unit: letter, maxLength: 40 }),
          fc.constantFrom('left', 'centre', 'right'),
          fc.double({ min: 5, max: 60, noNaN: true }),
          fc.integer({ min: 1, max: 3 }),
          (text, align, width, lines) => {
            const own: TextStyle = { ...style, font, align: align as 'left', lines, minPt: 8 };
            const { items, ...set } = fitText(text, own, 3, 4, width, fonts);
            expect(weighText(text, own, 3, width, fonts)).toEqual(set);
            // its measured width is that of its letters
            const starts = items.map(
              (item) => item.x + Math.min(0, ...item.glyphs.map((g) => g.x)),
            );
            if (starts.length > 0) expect(Math.min(...starts)).toBeCloseTo(set.ink.x, 6);
            expect(set.over > 0).toBe(items.some((item) => item.beyond));
          },
        ),
        { numRuns: 40 },
      );
  });

  test('short words keep their size, long ones shrink, longer ones run over by a number of letters', () => {
    expect(fitText('Tam Bellweather', style, 0, 0, 50, fonts)).toMatchObject({
      sizePt: 20,
      over: 0,
    });
    const shrunk = fitText('Bartholomew Featherstone', style, 0, 0, 40, fonts);
    expect(shrunk.over).toBe(0);
    expect(shrunk.sizePt).toBeLessThan(20);
    expect(
      fitText('Bartholomew Featherstonehaugh-Winterbourne', style, 0, 0, 30, fonts).over,
    ).toBeGreaterThan(5);
  });

  test('alignment moves the line inside its box', () => {
    const widthOf = (align: TextStyle['align']) =>
      fitText('Wren', { ...style, align }, 10, 0, 60, fonts).items[0]!.x;
    expect(widthOf('left')).toBe(10);
    expect(widthOf('centre')).toBeGreaterThan(20);
    expect(widthOf('right') - 10).toBeCloseTo(2 * (widthOf('centre') - 10), 6);
  });

  test('every mend that is offered mends, and the letters that run over are told apart', () => {
    let offered = 0;
    fc.assert(
      fc.property(
        fc.stringMatching(/^([A-Z][a-z]{1,14}[ -]){1,5}[a-z]{1,9}$/),
        fc.integer({ min: 12, max: 60 }),
        fc.integer({ min: 1, max: 3 }),
        fc.constantFrom('left', 'centre', 'right'),
        (name, width, lines, align) => {
          const set = { ...style, lines, align } as const;
          const fitted = fitText(name, set, 5, 0, width, fonts);
          expect(fitted.items.some((i) => i.beyond)).toBe(fitted.over > 0);
          if (fitted.over === 0) return;
          for (const mend of textMends(name, set, width, fonts)) {
            offered++;
            expect(fitText(name, { ...set, ...mend }, 5, 0, width, fonts).over).toBe(0);
          }
        },
      ),
      { numRuns: 60 },
    );
    expect(offered).toBeGreaterThan(10);
    // one more line spares the letters
    const [both, alone] = textMends(
      'Bartholomew Featherstonehaugh-Winterbourne',
      { ...style, minPt: 16 },
      50,
      fonts,
    );
    expect([both!.lines, alone!.lines]).toEqual([3, undefined]);
    expect(both!.minPt).toBeGreaterThan(alone!.minPt!);
    // one long word is not helped by more lines; many in little room may need both
    expect(textMends('Featherstonehaughwinterbourne', style, 30, fonts)).toEqual([
      { minPt: expect.any(Number) as number },
    ]);
    expect(textMends('Bartholomew Featherstonehaugh of Long Strand', style, 20, fonts)).toEqual([
      { lines: expect.any(Number) as number, minPt: expect.any(Number) as number },
    ]);
  });

  test('Hebrew runs from right to left beside Latin', () => {
    const { items } = fitText('Ada דניאל', { ...style, lines: 1 }, 0, 0, 90, fonts);
    const hebrew = items.find((i) => i.font === 'noto-hebrew-bold')!;
    expect(items[0]!.font).toBe('bricolage-bold');
    expect(hebrew.glyphs.map((g) => g.text).join('')).toBe('לאינד');
  });
});

describe('stock', () => {
  test('every place lies on its page and no two overlap', () => {
    for (const stock of stocks) {
      const places = Array.from({ length: placesOn(stock) }, (_, i) =>
        placeOnStock(stock, i, 1, 'across'),
      );
      for (const { x, y } of places) {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(y).toBeGreaterThanOrEqual(0);
        expect(x + stock.piece.width).toBeLessThanOrEqual(stock.page.width + 1e-9);
        expect(y + stock.piece.height).toBeLessThanOrEqual(stock.page.height + 1e-9);
      }
      expect(new Set(places.map((p) => `${p.x.toFixed(3)},${p.y.toFixed(3)}`)).size).toBe(
        places.length,
      );
      expect(stock.pitch.x).toBeGreaterThanOrEqual(stock.piece.width - 1e-9);
    }
  });

  test('a run on a started sheet begins at that place and goes on over the pages', () => {
    const stock = stockById('a4-21');
    expect(placeOnStock(stock, 0, 5, 'across')).toMatchObject({ page: 0, place: 4 });
    expect(placeOnStock(stock, 17, 5, 'across')).toMatchObject({ page: 1, place: 0 });
    expect(placeOnStock(stock, 1, 1, 'down').y).toBeGreaterThan(
      placeOnStock(stock, 0, 1, 'down').y,
    );
    expect(sheetsFor(stock, 17, 5)).toBe(1);
    expect(sheetsFor(stock, 18, 5)).toBe(2);
  });

  test('chunks cover every piece once, on whole sheets', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 3000 }),
        fc.integer({ min: 1, max: 21 }),
        (pieces, start) => {
          const stock = stockById('a4-21');
          const chunks = cutChunks(stock, pieces, start);
          let next = 0;
          let page = 0;
          for (const chunk of chunks) {
            expect([chunk.from, chunk.firstPage]).toEqual([next, page]);
            for (let i = chunk.from; i < chunk.to; i++) {
              const at = placeOnStock(stock, i, start, 'across').page;
              if (at < chunk.firstPage || at >= chunk.firstPage + chunk.pages)
                throw new Error(`piece ${i} lies on page ${at}`);
            }
            next = chunk.to;
            page += chunk.pages;
          }
          expect([next, page]).toEqual([pieces, sheetsFor(stock, pieces, start)]);
        },
      ),
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
    const made = makePiece(
      piece,
      stock,
      [stamp],
      { c1: 'DH-0142', c2: 'Ines Okafor-Lindqvist' },
      fonts,
    );
    const element = piece.elements.find((e) => e.kind === 'stamp')!;
    const [code] = made.codes;
    expect(code!.width).toBeLessThanOrEqual(element.kind === 'stamp' ? element.sizeMm : 0);
    expect((code!.moduleMm * code!.dpi) / 25.4).toBeCloseTo(
      Math.round((code!.moduleMm * code!.dpi) / 25.4),
      9,
    );
    expect(made.problems).toEqual([]);
  });

  test('says what is wrong with it, with and without drawing the code', () => {
    const values = {
      c1: '',
      c2: 'Bartholomew Featherstonehaugh-Winterbourne of Long Strand and Eelmouth',
    };
    const made = makePiece(piece, stock, [stamp], values, fonts);
    expect(made.problems.map((p) => p.kind)).toEqual(['no-code', 'over']);
    expect(wordProblems(piece, stock, [stamp], values, fonts).map((p) => p.kind)).toEqual(['over']);
    const outside = { ...piece, elements: piece.elements.map((e) => ({ ...e, x: 60 })) };
    expect(
      wordProblems(outside, stock, [stamp], { c1: 'A', c2: 'B' }, fonts).map((p) => p.kind),
    ).toContain('edge');
  });

  const box = { kind: 'box' as const, id: 'box', x: 20, y: 2, width: 40, height: 34 };
  const lettered = (x: number, y: number, width: number): PieceElement => ({
    kind: 'text',
    id: 'words',
    parts: [{ kind: 'column', column: 'c2' }],
    font: 'atkinson',
    sizePt: 10,
    minPt: 8,
    lines: 2,
    width,
    x,
    y,
    align: 'left',
    colour: '#000000',
  });

  test('on a coloured ground a white code keeps its white, and reads', async () => {
    provideReader();
    const code = piece.elements.find((e) => e.kind === 'stamp')!;
    const on = { ...piece, elements: [{ ...box, fill: '#2c1f63' }, code] };
    const made = makePiece(on, stock, [stamp], { c1: 'DH-0142', c2: 'Ines' }, fonts);
    expect(made.problems).toEqual([]);
    expect((await readBack(made.items, made.codes[0]!, fonts)).result).toBe('read');
    // on bare paper nothing white is printed
    const bare = makePiece(
      { ...piece, elements: [code] },
      stock,
      [stamp],
      { c1: 'DH-0142', c2: 'Ines' },
      fonts,
    );
    expect(made.items.length).toBe(bare.items.length + 2);
  });

  test('words, filled boxes and borders over a code are told; words that end before it and a frame round it are not', () => {
    const code = piece.elements.find((e) => e.kind === 'stamp')!;
    const told = (element: PieceElement, name: string) =>
      wordProblems(
        { ...piece, elements: [code, element] },
        stock,
        [stamp],
        { c1: 'DH-0142', c2: name },
        fonts,
      ).map((p) => p.kind);
    expect(told(lettered(4, 10, 58), 'Bartholomew Featherstonehaugh')).toEqual(['close']);
    expect(told(lettered(4, 10, 58), 'Ines')).toEqual([]);
    expect(told({ ...box, fill: '#ffffff' }, 'Ines')).toEqual(['close']);
    expect(
      told({ ...box, border: { mm: 0.3, colour: '#000000' }, x: code.x - 3, width: 30 }, 'Ines'),
    ).toEqual([]);
    expect(
      told(
        { kind: 'rule', id: 'rule', x: 2, y: 19, width: 60, height: 0.3, colour: '#000000' },
        'Ines',
      ),
    ).toEqual(['close']);
  });

  test('the quick look over a whole list finds what drawing every piece finds', () => {
    const place = { x: fc.integer({ min: -4, max: 60 }), y: fc.integer({ min: -4, max: 36 }) };
    const element = fc.oneof(
      fc.record(place).map((at): PieceElement => ({
        kind: 'box',
        id: 'box',
        ...at,
        width: 12,
        height: 9,
        fill: '#d8d9d0',
      })),
      fc
        .record({ ...place, sizeMm: fc.integer({ min: 5, max: 30 }) })
        .map((at): PieceElement => ({ kind: 'stamp', id: 'code', stamp: stamp.id, ...at })),
      fc
        .record({ ...place, width: fc.integer({ min: 8, max: 50 }) })
        .map((at) => lettered(at.x, at.y, at.width)),
    );
    const values = { c1: 'https://marrambay.example/v/DH-0142', c2: 'Bartholomew Fenn 桂 ꦗ' };
    fc.assert(
      fc.property(
        fc.uniqueArray(element, { selector: (e) => e.kind, minLength: 1 }),
        (elements) => {
          const some = { ...piece, elements };
          const kinds = (problems: PieceProblem[]) =>
            problems.map((p) => `${p.element} ${p.kind} ${p.reason}`).sort();
          expect(kinds(wordProblems(some, stock, [stamp], values, fonts))).toEqual(
            kinds(makePiece(some, stock, [stamp], values, fonts).problems),
          );
        },
      ),
    );
  });

  test('whole dots make a code a little smaller than asked, never larger', () => {
    const symbol = encode('qr', 'https://marrambay.example/v/DH-0142');
    fc.assert(
      fc.property(
        fc.double({ min: 8, max: 80, noNaN: true }),
        fc.constantFrom(203, 300, 600),
        (sizeMm, dpi) => {
          const m = measure(symbol, { ...stamp.look, sizeMm, dpi });
          expect(Number.isInteger(m.dots)).toBe(true);
          if (m.dots > 1) expect(m.widthMm).toBeLessThanOrEqual(sizeMm + 1e-9);
          expect(m.moduleMm).toBeCloseTo((m.dots * 25.4) / dpi, 9);
        },
      ),
    );
  });
});
