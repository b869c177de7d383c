import { inflateSync } from 'node:zlib';
import { deflateSync } from 'node:zlib';
import { beforeAll, describe, expect, test } from 'vitest';
import { encode, renderPng, renderSvg } from '../../../src/core';
import { moved, symbolRects, type DrawItem } from '../../../src/core/drawing/drawing';
import { assemblePdf, pageContent, type GlyphUse } from '../../../src/core/artwork/pdf';
import { rasterise } from '../../../src/core/artwork/raster';
import { short } from '../../../src/core/drawing/numbers';
import { firstStamp } from '../../../src/core/payload/stamp';
import { fontsForPiece, makePiece, type PlacedCode } from '../../../src/core/piece/piece';
import { firstPiece } from '../../../src/core/piece/starters';
import { stockById } from '../../../src/core/piece/stock';
import { SheetBuilder, cutChunks } from '../../../src/core/run/plan';
import { readBack } from '../../../src/core/readback/readback';
import { fontBook } from '../../../src/server/platform/fonts';
import { provideReader } from '../../../src/server/platform/reader';
import { readAll } from '../../helpers/barcode';
import { pdfFonts, pdfText, renderPdf } from '../../helpers/poppler';
import type { Column } from '../../../src/core/records/columns';

const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
];
const names = [
  'Ines Okafor-Lindqvist',
  'Σοφία Καρρά',
  'Keiko Marsh 桂子',
  'دانة نور',
  'Łukasz Święcicki',
];
const records = Array.from({ length: 25 }, (_, i) => ({
  c1: `DH-${String(142 + i).padStart(4, '0')}`,
  c2: names[i % names.length]!,
}));
const stamp = firstStamp(columns);
const stock = stockById('a4-21');
const piece = firstPiece(stock, stamp, columns);

beforeAll(provideReader);

async function sheetPdf(): Promise<Buffer> {
  const fonts = fontBook(fontsForPiece(piece, records));
  const used: GlyphUse = new Map();
  const pages: Uint8Array[] = [];
  for (const chunk of cutChunks(stock, records.length, 3, 21)) {
    const sheets = new SheetBuilder(stock, 3, 'across', chunk);
    for (let i = chunk.from; i < chunk.to; i++)
      sheets.add(i, makePiece(piece, stock, [stamp], records[i]!, fonts).items);
    for (const page of sheets.pages) pages.push(deflateSync(pageContent(page, fonts, used)));
  }
  const parts: Uint8Array[] = [];
  const info = {
    title: 'Badges „Σ“',
    pageWidthMm: 210,
    pageHeightMm: 297,
    date: new Date('2026-11-12T10:00:00Z'),
  };
  for await (const part of assemblePdf(pages, used, fonts, info, (b) => deflateSync(b)))
    parts.push(part);
  return Buffer.concat(parts);
}

describe('SVG and PNG', () => {
  const symbol = encode('qr', 'https://marrambay.example/v/DH-0142');

  test('the rectangles cover exactly the dark modules', () => {
    const rects = symbolRects(symbol);
    const painted = new Uint8Array(symbol.modules.length);
    for (let i = 0; i < rects.length; i += 4)
      for (let r = 0; r < rects[i + 3]!; r++)
        for (let c = 0; c < rects[i + 2]!; c++)
          painted[(rects[i + 1]! + r) * symbol.columns + rects[i]! + c]!++;
    expect(Array.from(painted)).toEqual(Array.from(symbol.modules));
    expect(rects.length / 4).toBeLessThan(symbol.modules.reduce((a, b) => a + b, 0) / 1.5);
  });

  test('an SVG is one path for the modules, sized in mm', () => {
    const svg = renderSvg(symbol, { sizeMm: 24, dpi: 600 });
    expect([svg.match(/<path/g)?.length, svg.match(/<rect/g)?.length]).toEqual([1, 1]);
    expect(svg).toMatch(/width="23\.\d+mm"/);
    expect(renderSvg(symbol)).toBe(renderSvg(symbol));
    expect(renderSvg(symbol, { background: 'transparent' })).not.toContain('<rect');
  });

  test('a PNG has one bit a pixel, its resolution, and reads', async () => {
    const png = renderPng(symbol, { dotsPerModule: 5, dpi: 300, foreground: '#46298f' });
    expect([png[24], png[25]]).toEqual([1, 3]);
    const view = Buffer.from(png);
    expect(view.readUInt32BE(16)).toBe((symbol.columns + 8) * 5);
    const physical = view.indexOf('pHYs');
    expect(view.readUInt32BE(physical + 4)).toBe(11811);
    const [read] = await readAll(png, { formats: ['QRCode'] });
    expect([read!.text, read!.extra.UEC]).toEqual(['https://marrambay.example/v/DH-0142', 1]);
    expect(Buffer.from(renderPng(symbol))).toEqual(Buffer.from(renderPng(symbol)));
  });

  test('numbers are short and never lose a whole digit', () => {
    expect([
      short(10),
      short(100.4, 0),
      short(0.1 + 0.2),
      short(-0.0001),
      short(1234.56789, 2),
    ]).toEqual(['10', '100', '0.3', '0', '1234.57']);
  });
});

describe('PDF', () => {
  test('rendered by Poppler, every code on it reads, in order and in full', async () => {
    const pages = renderPdf(await sheetPdf(), 300);
    expect(pages).toHaveLength(2);
    const found: string[] = [];
    for (const page of pages)
      for (const read of await readAll(page, { formats: ['QRCode'] })) found.push(read.text);
    expect(found.sort()).toEqual(records.map((r) => r.c1).sort());
  });

  test('its fonts are embedded subsets and its text can be searched in every script', async () => {
    const pdf = await sheetPdf();
    const fonts = pdfFonts(pdf).trim().split('\n').slice(2);
    expect(fonts.length).toBeGreaterThanOrEqual(5);
    for (const line of fonts) expect(line).toMatch(/^[A-Z]{6}\+.*yes yes yes/);
    const text = pdfText(pdf);
    for (const word of ['Lindqvist', 'Σοφία', '桂子', 'Święcicki', 'DH-0166'])
      expect(text).toContain(word);
    expect(pdf.length).toBeLessThan(120_000);
  });

  test('the same input gives the same bytes', async () => {
    expect((await sheetPdf()).equals(await sheetPdf())).toBe(true);
  });

  test('codes are vector: no picture is in the file', async () => {
    const pdf = (await sheetPdf()).toString('latin1');
    expect(pdf).not.toContain('/Subtype/Image');
    const streams = [...pdf.matchAll(/\/Filter\/FlateDecode\/Length (\d+)>>\nstream\n/g)].map((m) =>
      inflateSync(
        Buffer.from(
          pdf.slice(m.index + m[0].length, m.index + m[0].length + Number(m[1])),
          'latin1',
        ),
      ).toString('latin1'),
    );
    expect(streams.some((s) => (s.match(/ re\n/g) ?? []).length > 1000)).toBe(true);
  });
});

describe('read-back', () => {
  const fonts = () => fontBook(fontsForPiece(piece, records));
  const made = () => makePiece(piece, stock, [stamp], records[0]!, fonts());

  test('reads the code of a finished piece at several printers’ dots', async () => {
    const { items, codes } = made();
    for (const dpi of [203, 300, 600])
      expect(await readBack(items, codes[0]!, fonts(), dpi)).toMatchObject({
        result: 'read',
        text: 'DH-0142',
      });
  });

  test('a box or words lying over the code make it fail', async () => {
    const { items, codes } = made();
    const cover: DrawItem = {
      kind: 'rect',
      x: codes[0]!.x,
      y: codes[0]!.y,
      width: codes[0]!.width * 0.6,
      height: codes[0]!.height,
      fill: '#ffffff',
    };
    expect(await readBack([...items, cover], codes[0]!, fonts())).toEqual({ result: 'unread' });
    const words = items.filter((i) => i.kind === 'text');
    const over = Array.from({ length: 12 }, (_, k) =>
      moved(words, codes[0]!.x - 4, k * 2 - 6),
    ).flat();
    expect((await readBack([...items, ...over], codes[0]!, fonts())).result).toBe('unread');
  });

  test('a code that says something else is found out', async () => {
    const { items, codes } = made();
    const wrong: PlacedCode = { ...codes[0]!, symbol: { ...codes[0]!.symbol, payload: 'DH-0143' } };
    expect(await readBack(items, wrong, fonts())).toEqual({ result: 'differs', text: 'DH-0142' });
  });

  test('dots are inked where their centre is covered', () => {
    const image = rasterise(
      [{ kind: 'rect', x: 1, y: 1, width: 2, height: 1, fill: '#000000' }],
      { x: 0, y: 0, width: 4, height: 3 },
      25.4,
      fonts(),
    );
    expect([image.width, image.height]).toEqual([4, 3]);
    expect(Array.from(image.pixels, (p) => (p === 0 ? 1 : 0)).join('')).toBe('000001100000');
  });
});
