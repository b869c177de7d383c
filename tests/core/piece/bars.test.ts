import { widestCode, withCodeWidth } from '../../../src/core/piece/resizing';
import { beforeAll, describe, expect, test } from 'vitest';
import {
  encode,
  renderPng,
  renderSvg,
  symbologies,
  symbologyIds,
  type SymbologyId,
} from '../../../src/core';
import { symbolHeight, symbolRects } from '../../../src/core/drawing/drawing';
import { layoutOf, measure, withBarHeight } from '../../../src/core/look/layout';

import { defaultLook } from '../../../src/core/look/look';
import { firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import { makePiece } from '../../../src/core/piece/piece';
import type { Piece, StampElement } from '../../../src/core/piece/model';
import { wordProblems } from '../../../src/core/piece/weighing';
import { stockById } from '../../../src/core/piece/stock';
import type { Column } from '../../../src/core/records/columns';
import { readBack } from '../../../src/core/readback/readback';
import { fontBook } from '../../../src/server/platform/fonts';
import { provideReader } from '../../../src/server/platform/reader';
import { readAll } from '../../helpers/barcode';

const columns: Column[] = [{ id: 'c1', name: 'Number', role: 'key' }];
const samples: Record<SymbologyId, string> = {
  qr: 'DH-0142',
  'data-matrix': 'DH-0142',
  aztec: 'DH-0142',
  'code-128': 'DH-0142',
  'code-39': 'DH-0142',
  'code-93': 'DH-0142',
  codabar: '0142',
  itf: '200041',
  'itf-14': '12000411000014',
  'ean-13': '2000411000017',
  'ean-8': '20000004',
  'upc-a': '040000700418',
  'upc-e': '01234505',
  'micro-qr': 'DH-0142',
  rmqr: 'DH-0142',
  pdf417: 'DH-0142',
  maxicode: 'DH-0142',
  'gs1-128': '(01)02000411000017(10)AB',
  'gs1-databar': '(01)02000411000017',
  'gs1-data-matrix': '(01)02000411000017(10)AB',
  'gs1-qr': '(01)02000411000017(10)AB',
};
const stampOf = (symbology: SymbologyId, look: Partial<Stamp['look']> = {}): Stamp => {
  const first = firstStamp(columns);
  return { ...first, symbology, look: { ...first.look, sizeMm: 50, ...look } };
};
const pieceOf = (stamp: Stamp): Piece => ({
  stock: 'a4-8',
  elements: [
    { kind: 'stamp', id: 'code', stamp: stamp.id, x: 10, y: 5, sizeMm: stamp.look.sizeMm },
  ],
});
const stock = stockById('a4-8');

beforeAll(provideReader);

describe.each(symbologyIds)('%s on a piece', (id) => {
  test('is read back from the finished piece, its text and surroundings included', async () => {
    const stamp = stampOf(id);
    const fonts = fontBook(['mono']);
    const made = makePiece(pieceOf(stamp), stock, [stamp], { c1: samples[id] }, fonts);
    // one of the samples is fine print, which is told and reads all the same
    expect(made.problems.filter((p) => p.kind !== 'small')).toEqual([]);
    for (const dpi of [300, 600])
      expect([dpi, (await readBack(made.items, made.codes[0]!, fonts, dpi)).result]).toEqual([
        dpi,
        'read',
      ]);
  });

  test('is read from its own PNG', async () => {
    const symbol = encode(id, samples[id]);
    const png = renderPng(symbol, {
      dotsPerModule: 4,
      barMm: symbologies[id].linear ? 12 : undefined,
    });
    const expected = symbologies[id].expectedRead(symbol, {});
    // the reader wants light beyond the ends; the picture ends with the quiet zone
    const [read] = await readAll(png, { formats: [expected.format as 'QRCode'], tryHarder: true });
    expect(read?.text).toBe(expected.text);
  });
});

describe('bars', () => {
  test('are as high as the look wants them, guards and bearers keeping theirs', () => {
    for (const id of ['code-128', 'ean-13', 'itf-14'] as const) {
      const symbol = encode(id, samples[id]);
      const look = { ...stampOf(id).look, barMm: 15 };
      const high = withBarHeight(symbol, look);
      const { moduleMm } = measure(symbol, look);
      expect(Math.abs(symbolHeight(high) * moduleMm - 15)).toBeLessThan(moduleMm);
      high.rowHeights!.forEach(
        (h, i) => i !== high.stretchRow && expect(h).toBe(symbol.rowHeights![i]),
      );
    }
    const qr = encode('qr', 'DH-0142');
    expect(withBarHeight(qr, { ...stampOf('qr').look, barMm: 15 })).toBe(qr);
  });

  test('are one rectangle each, whatever their height', () => {
    const symbol = encode('code-128', 'DH-0142');
    const rects = symbolRects(symbol);
    const runs = (Array.from(symbol.modules).join('').match(/1+/g) ?? []).length;
    expect(rects.length / 4).toBe(runs);
    expect(rects[3]).toBe(symbolHeight(symbol));
    expect(layoutOf(symbol, { ...defaultLook, hri: 'none' })).toMatchObject({
      columns: symbol.columns + 20,
      rows: symbolHeight(symbol),
    });
  });

  test('have their text below, set in groups for EAN, or none at all', () => {
    const ean = encode('ean-13', samples['ean-13']);
    const plain = layoutOf(ean, { ...defaultLook, hri: 'none' });
    expect(layoutOf(ean, defaultLook)).toMatchObject({ hriTop: 69, rows: plain.rows + 5 });
    expect(plain.hri).toBeUndefined();
    expect(ean.hri!.map((h) => h.text)).toEqual(['2', '000411', '000017']);
    expect(renderSvg(ean, { sizeMm: 38 })).toContain('<title>2 000411 000017</title>');
    expect(renderSvg(ean, { hri: 'none' })).not.toContain('title');
    expect(renderSvg(encode('code-128', 'a<b&c'))).toContain('a&#60;b&#38;c');
    // above, the text pushes the bars down by its own height
    const bars = encode('code-128', 'DH-0142');
    expect(layoutOf(bars, { ...defaultLook, hri: 'above' })).toMatchObject({ hriTop: 0, y: 10 });
  });

  test('wider than their label go over its edge, and that is said', () => {
    const stamp = stampOf('code-128', { barMm: 10 });
    const piece: Piece = {
      stock: 'a4-8',
      elements: [{ kind: 'stamp', id: 'code', stamp: stamp.id, x: 60, y: 5, sizeMm: 50 }],
    };
    expect(
      wordProblems(piece, stock, [stamp], { c1: 'DH-0142' }, fontBook(['mono'])).map((p) => p.kind),
    ).toEqual(['edge']);
    const wide: Piece = {
      ...piece,
      elements: [{ ...piece.elements[0], x: 5, y: -2, sizeMm: 60 } as Piece['elements'][number]],
    };
    expect(wordProblems(wide, stock, [stamp], { c1: 'DH-0142' }, fontBook(['mono']))).toEqual([]);
  });
});

describe('bars on a label that is wider than high', () => {
  const label = stockById('a4-21');
  const stamp = stampOf('code-128', { barMm: 10 });
  const at = { kind: 'stamp' as const, id: 'code', stamp: stamp.id };
  const drawn = (element: StampElement) => {
    const piece: Piece = { stock: 'a4-21', elements: [element] };
    const values = { c1: samples['code-128'] };
    return makePiece(piece, label, [stamp], values, fontBook(['mono'])).boxes[0]!;
  };

  test('may be as wide as the label, and no higher than they are', () => {
    const { width, height } = label.piece;
    expect(height).toBeLessThan(width);
    expect(widestCode(label, stamp)).toBe(width);
    expect(widestCode(label, stamp, 90)).toBe(height);
    expect(widestCode(label, stampOf('qr'))).toBe(height);
    const wide = withCodeWidth({ ...at, x: 0, y: 2, sizeMm: 30 }, stamp, width);
    const box = drawn(wide);
    expect(box.width).toBeGreaterThan(height);
    expect(box.width).toBeLessThanOrEqual(width + 0.001);
    expect(box.height).toBeLessThan(20);
  });

  test('stay at their height when they are made wider or narrower', () => {
    const element = { ...at, x: 4, y: 6, sizeMm: 30 };
    const middle = (e: StampElement) => drawn(e).y + drawn(e).height / 2;
    for (const sizeMm of [20, 45, 60])
      expect(middle(withCodeWidth(element, stamp, sizeMm))).toBeCloseTo(middle(element), 0);
    // a square is given its size where its corner is
    expect(withCodeWidth(element, stampOf('qr'), 20)).toMatchObject({ x: 4, y: 6, sizeMm: 20 });
  });
});
