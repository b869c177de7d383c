import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { degrees, PDFDocument, PDFName, StandardFonts } from '@cantoo/pdf-lib';
import PdfKit from 'pdfkit';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { artItems, symbolArt } from '../../../src/core/artwork/symbol-art';
import { cornerPlace } from '../../../src/core/documents/place';
import { cellsOf, FreeSpace, inkMap } from '../../../src/core/documents/room';
import { inspectPdf, putOnPdf, type PutOnPage } from '../../../src/core/documents/pdf';
import { measure } from '../../../src/core/look/layout';
import { defaultLook } from '../../../src/core/look/look';
import { encode } from '../../../src/core/symbology';
import { readAll, readPlaces } from '../../helpers/barcode';
import { pdfText, renderPdf } from '../../helpers/poppler';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'hand-stamp-pdfs-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

const check = (pdf: Uint8Array): string => {
  writeFileSync(join(folder, 'check.pdf'), pdf);
  return execFileSync('qpdf', ['--check', join(folder, 'check.pdf')], { encoding: 'utf8' });
};
const qpdf = (pdf: Uint8Array, ...options: string[]): Uint8Array => {
  writeFileSync(join(folder, 'in.pdf'), pdf);
  execFileSync('qpdf', [...options, join(folder, 'in.pdf'), join(folder, 'out.pdf')]);
  return readFileSync(join(folder, 'out.pdf'));
};

function code(page: number, x: number, y: number, text = 'L-0007'): PutOnPage {
  const look = { ...defaultLook, sizeMm: 18 };
  const symbol = encode('qr', text);
  const art = symbolArt(symbol, look);
  const { moduleMm, widthMm, heightMm } = measure(art.symbol, look);
  return { page, x, y, widthMm, heightMm, items: artItems(art, 0, 0, moduleMm), about: 'Code' };
}

async function letter({
  turn = 0,
  crop,
  pages = 1,
}: { turn?: number; crop?: [number, number, number, number]; pages?: number } = {}) {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let n = 0; n < pages; n++) {
    const page = document.addPage([420, 595]);
    page.setRotation(degrees(turn));
    if (crop) page.setCropBox(...crop);
    page.drawText(`Agreement L-0007, page ${n + 1}`, { x: 120, y: 300, size: 14, font });
  }
  document.setTitle('Agreement');
  return document.save({ useObjectStreams: false });
}

/** The position of the code on the rendered page, in mm from the top left. */
async function seenAt(pdf: Uint8Array, page = 0) {
  const dpi = 200;
  const [found] = await readPlaces(renderPdf(pdf, dpi)[page]!);
  const { topLeft, topRight, bottomLeft, bottomRight } = found!.position;
  const xs = [topLeft.x, topRight.x, bottomLeft.x, bottomRight.x];
  const ys = [topLeft.y, topRight.y, bottomLeft.y, bottomRight.y];
  const mm = (n: number) => (n / dpi) * 25.4;
  return {
    text: found!.text,
    x: mm(Math.min(...xs)),
    y: mm(Math.min(...ys)),
    upright: topLeft.y <= bottomLeft.y && topLeft.x <= topRight.x,
  };
}

describe('a code lies where it is wanted on the page as it is shown, and everything else stays', () => {
  test.each<[string, number, [number, number, number, number] | undefined]>([
    ['upright', 0, undefined],
    ['turned by 90°', 90, undefined],
    ['turned by 180°', 180, undefined],
    ['turned by 270°', 270, undefined],
    ['cropped', 0, [40, 60, 320, 460]],
    ['cropped and turned by 90°', 90, [40, 60, 320, 460]],
    ['cropped and turned by 270°', 270, [40, 60, 320, 460]],
  ])('%s', async (_, turn, crop) => {
    const original = await letter({ turn, crop });
    const facts = await inspectPdf(original);
    expect(facts.pages[0]!.turn).toBe(turn);
    const made = await putOnPdf(original, [code(0, 20, 12)], 'hash');
    expect(Buffer.from(made.subarray(0, original.length))).toEqual(Buffer.from(original));
    expect(check(made)).toContain('No syntax or stream encoding errors');
    expect(pdfText(made)).toBe(pdfText(original));
    const at = await seenAt(made);
    expect(at.text).toBe('L-0007');
    expect(at.upright).toBe(true);
    // the quiet zone is between the edge of the place and the first module
    expect(at.x).toBeGreaterThan(20);
    expect(at.x).toBeLessThan(24);
    expect(at.y).toBeGreaterThan(12);
    expect(at.y).toBeLessThan(16);
  });
});

test('what is made says of which document, the same bytes each time, and is known when it comes in', async () => {
  const original = await letter();
  expect((await inspectPdf(original)).origin).toBeUndefined();
  const made = await putOnPdf(original, [code(0, 5, 5)], 'abc');
  expect(await putOnPdf(original, [code(0, 5, 5)], 'abc')).toEqual(made);
  expect(await inspectPdf(made)).toMatchObject({
    origin: 'abc',
    title: 'Agreement',
    signed: false,
  });
});

test('several pages, each with its own', async () => {
  const original = await letter({ pages: 3 });
  const made = await putOnPdf(original, [code(0, 5, 5, 'one'), code(2, 5, 5, 'three')], 'x');
  const pages = await Promise.all(renderPdf(made, 200).map((page) => readAll(page)));
  expect(pages.map((p) => p.map((r) => r.text))).toEqual([['one'], [], ['three']]);
});

test.each([
  ['with object streams', ['--object-streams=generate']],
  ['linearised', ['--linearize']],
  ['without compression', ['--stream-data=uncompress']],
])('documents %s', async (_, options) => {
  const original = qpdf(await letter({ pages: 2 }), ...options);
  const made = await putOnPdf(original, [code(1, 30, 40)], 'x');
  expect(Buffer.from(made.subarray(0, original.length))).toEqual(Buffer.from(original));
  expect(check(made)).toContain('No syntax or stream encoding errors');
  expect(pdfText(made)).toBe(pdfText(original));
  expect((await seenAt(made, 1)).text).toBe('L-0007');
});

test.each<[string, string, (from: string, to: string) => string[]]>([
  [
    'Ghostscript',
    'gs',
    (from, to) => ['-q', '-dBATCH', '-dNOPAUSE', '-sDEVICE=pdfwrite', `-sOutputFile=${to}`, from],
  ],
  ['cairo', 'pdftocairo', (from, to) => ['-pdf', from, to]],
])('documents that %s has written', async (_, program, options) => {
  const [from, to] = [join(folder, 'from.pdf'), join(folder, 'to.pdf')];
  writeFileSync(from, await letter({ pages: 2, turn: 90 }));
  execFileSync(program, options(from, to));
  const original = readFileSync(to);
  const { pages } = await inspectPdf(original);
  expect(pages).toHaveLength(2);
  const made = await putOnPdf(original, [code(1, 20, 12)], 'x');
  expect(Buffer.from(made.subarray(0, original.length))).toEqual(original);
  expect(check(made)).toContain('No syntax or stream encoding errors');
  expect(pdfText(made)).toBe(pdfText(original));
  const at = await seenAt(made, 1);
  expect([at.text, at.upright]).toEqual(['L-0007', true]);
  expect(Math.abs(at.x - 22)).toBeLessThan(2);
  expect(Math.abs(at.y - 14)).toBeLessThan(2);
});

test('documents that pdfkit has written, with a form, an outline and a link', async () => {
  const document = new PdfKit({ size: 'A5', compress: true, tagged: true, lang: 'en' });
  const parts: Uint8Array[] = [];
  document.on('data', (part: Uint8Array) => parts.push(part));
  const ended = new Promise((resolve) => document.on('end', resolve));
  document.initForm();
  document.fontSize(14).text('Agreement L-0007', 60, 200, { link: 'https://marrambay.example/' });
  document.formText('signed', 60, 240, 120, 20, { value: 'Odile' });
  document.outline.addItem('Agreement');
  document.addPage().text('Page 2', 60, 200);
  document.end();
  await ended;
  const original = Buffer.concat(parts);
  const made = await putOnPdf(original, [code(1, 20, 12)], 'x');
  expect(Buffer.from(made.subarray(0, original.length))).toEqual(original);
  expect(check(made)).toContain('No syntax or stream encoding errors');
  expect(pdfText(made)).toBe(pdfText(original));
  expect((await seenAt(made, 1)).text).toBe('L-0007');
  const opened = await PDFDocument.load(made);
  expect(opened.getForm().getTextField('signed').getText()).toBe('Odile');
  expect(opened.catalog.get(PDFName.of('Outlines'))).toBeDefined();
  expect(opened.getPage(0).node.Annots()?.size()).toBe(2);
});

test('a page whose own drawing leaves its space moved does not move the code', async () => {
  const document = await PDFDocument.load(await letter());
  const [page] = document.getPages();
  // as some programs write it: the space is changed and never given back
  const stream = document.context.flateStream('0.5 0 0 0.5 100 200 cm 0 0 10 10 re f\n');
  page!.node.addContentStream(document.context.register(stream));
  const made = await putOnPdf(await document.save(), [code(0, 20, 12)], 'x');
  const at = await seenAt(made);
  expect(at.x).toBeLessThan(24);
  expect(at.y).toBeLessThan(16);
});

test('locked, damaged and other files are refused in words', async () => {
  const locked = qpdf(await letter(), '--encrypt', 'open', 'own', '256', '--');
  await expect(inspectPdf(locked)).rejects.toThrow(/locked/);
  await expect(inspectPdf(new TextEncoder().encode('%PDF-1.7 nothing'))).rejects.toThrow(/damaged/);
  await expect(inspectPdf(new TextEncoder().encode('Dear Odile'))).rejects.toThrow(
    'This is not a PDF. Choose another file.',
  );
});

test.each([
  ['top left', 5, 7],
  ['top right', 75, 7],
  ['bottom left', 5, 123],
  ['bottom right', 75, 123],
  ['top middle', 40, 7],
  ['bottom middle', 40, 123],
  ['middle left', 5, 65],
  ['middle right', 75, 65],
] as const)('a place is measured from %s', (corner, x, y) => {
  const page = { widthMm: 100, heightMm: 150 };
  expect(
    cornerPlace({ corner, acrossMm: 5, downMm: 7 }, page, { widthMm: 20, heightMm: 20 }),
  ).toEqual({ x, y });
});

test('free space is measured from the corner of each page, however large', () => {
  const page = (widthMm: number, heightMm: number, taken: readonly [number, number]) => {
    const { columns, rows } = cellsOf({ widthMm, heightMm });
    const ink = inkMap((x, y) => x === taken[0] && y === taken[1], columns, rows);
    return { widthMm, heightMm, turn: 0 as const, ink };
  };
  const free = new FreeSpace('bottom right');
  // both have something 7.5 mm from the right and 7.5 mm from the bottom
  free.add(page(90, 120, [27, 37]));
  free.add(page(60, 60, [17, 17]));
  const place = free.nearest({ widthMm: 15, heightMm: 15 })!;
  expect(place.corner).toBe('bottom right');
  expect(Math.min(place.acrossMm, place.downMm)).toBe(6);
  expect(Math.max(place.acrossMm, place.downMm)).toBe(12);
  // nothing as large as the smaller page is free
  expect(free.nearest({ widthMm: 55, heightMm: 15 })).toBeUndefined();
  expect(new FreeSpace('top left').nearest({ widthMm: 5, heightMm: 5 })).toBeUndefined();
});
