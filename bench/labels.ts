/** 10,000 records to a label PDF, beside two scripts that a user would write with pdfkit. */
import PDFDocument from 'pdfkit';
import encodeQR from 'qr';
import { encode as uqr } from 'uqr';
import { assemblePdf, pageContent, type GlyphUse } from '../src/core/artwork/pdf';
import { firstStamp } from '../src/core/payload/stamp';
import { fontsForPiece, makePiece, type PlacedCode } from '../src/core/piece/piece';
import type { Piece } from '../src/core/piece/model';
import { placeOnStock, stockById } from '../src/core/piece/stock';
import { readBack } from '../src/core/readback/readback';
import type { Column } from '../src/core/records/columns';
import { cutChunks, movedCode, SheetBuilder } from '../src/core/run/plan';
import { fontBook } from '../src/server/platform/fonts';
import { provideReader } from '../src/server/platform/reader';
import { addresses, report } from './measure';
import { deflate } from '../src/server/platform/deflate';

const columns: Column[] = [
  { id: 'c1', name: 'Page', role: 'address' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'No', role: 'key' },
];
const stock = stockById('a4-21');

function records(count: number) {
  return addresses(count).map((c1, i) => ({
    c1,
    c2: `Ines Okafor ${i + 1}`,
    c3: `DH-${String(i + 1).padStart(5, '0')}`,
  }));
}

async function ours(count: number, read: boolean): Promise<number> {
  const rows = records(count);
  const stamp = firstStamp(columns);
  stamp.look.dpi = 300;
  const words = {
    kind: 'text' as const,
    x: 4,
    width: 30,
    align: 'left' as const,
    colour: '#000000',
    lines: 1,
  };
  const piece: Piece = {
    stock: stock.id,
    elements: [
      { kind: 'stamp', id: 'code', stamp: stamp.id, x: 36, y: 7, sizeMm: 24 },
      {
        ...words,
        id: 'name',
        y: 8,
        parts: [{ kind: 'column', column: 'c2' }],
        font: 'atkinson',
        sizePt: 11,
        minPt: 8,
      },
      {
        ...words,
        id: 'no',
        y: 26,
        parts: [{ kind: 'column', column: 'c3' }],
        font: 'mono',
        sizePt: 9,
        minPt: 9,
      },
    ],
  };
  const start = performance.now();
  const fonts = fontBook(fontsForPiece(piece, rows));
  const used: GlyphUse = new Map();
  const pages: Uint8Array[] = [];
  for (const chunk of cutChunks(stock, rows.length, 1)) {
    const sheets = new SheetBuilder(stock, 1, 'across', chunk);
    const placed: { code: PlacedCode; page: number; key: string }[] = [];
    for (let i = chunk.from; i < chunk.to; i++) {
      const made = makePiece(piece, stock, [stamp], rows[i], fonts);
      const { x, y, page } = sheets.add(i, made.items);
      for (const code of made.codes)
        placed.push({ code: movedCode(code, x, y), page: page - chunk.firstPage, key: rows[i].c3 });
    }
    // from the finished sheet, as a run does
    if (read)
      for (const { code, page, key } of placed)
        if ((await readBack(sheets.pages[page].items, code, fonts)).result !== 'read')
          throw new Error(`${key} does not read`);
    for (const page of sheets.pages) pages.push(deflate(pageContent(page, fonts, used)));
  }
  let size = 0;
  const info = { title: 'Bench', pageWidthMm: 210, pageHeightMm: 297, date: new Date(0) };
  for await (const part of assemblePdf(pages, used, fonts, info, deflate)) size += part.length;
  if (size === 0) throw new Error('no PDF was made');
  return (performance.now() - start) / 1000;
}

type Matrix = { size: number; get(x: number, y: number): boolean };
const byUqr = (text: string): Matrix => {
  const code = uqr(text, { ecc: 'M', border: 0 });
  return { size: code.size, get: (x, y) => code.data[y][x] };
};
/** The fastest encoder among the peers. */
const byFastest = (text: string): Matrix => {
  // its smallest border is one module
  const rows = encodeQR(text, 'raw', { ecc: 'medium', border: 1 });
  return { size: rows.length - 2, get: (x, y) => rows[y + 1][x + 1] };
};

/** What a person writes who has an afternoon: a loop, a rectangle per module, two lines of text. */
function script(count: number, encode: (text: string) => Matrix): Promise<number> {
  const mm = 72 / 25.4;
  const rows = records(count);
  const start = performance.now();
  return new Promise((resolve) => {
    const document = new PDFDocument({ size: 'A4', margin: 0, autoFirstPage: false });
    document.on('data', () => undefined);
    document.on('end', () => resolve((performance.now() - start) / 1000));
    rows.forEach((row, i) => {
      const place = placeOnStock(stock, i, 1, 'across');
      if (place.place === 0) document.addPage();
      const code = encode(row.c1);
      const module = (20 / code.size) * mm;
      const x0 = (place.x + 38) * mm;
      const y0 = (place.y + 9) * mm;
      for (let y = 0; y < code.size; y++)
        for (let x = 0; x < code.size; x++)
          if (code.get(x, y)) document.rect(x0 + x * module, y0 + y * module, module, module);
      document.fill('#000000');
      document
        .font('Helvetica')
        .fontSize(11)
        .text(row.c2, (place.x + 4) * mm, (place.y + 8) * mm, { lineBreak: false });
      document
        .font('Courier')
        .fontSize(9)
        .text(row.c3, (place.x + 4) * mm, (place.y + 26) * mm, { lineBreak: false });
    });
    document.end();
  });
}

export async function benchLabels(): Promise<void> {
  provideReader();
  const count = 10_000;
  await ours(210, true);
  await script(210, byUqr);
  const uqrTime = await script(count, byUqr);
  const plain = await ours(count, false);
  const fastestTime = await script(count, byFastest);
  const read = await ours(count, true);
  report(
    '10,000 labels to PDF in seconds, beside a script on pdfkit and uqr',
    plain,
    uqrTime,
    'lower',
  );
  report(
    '10,000 labels to PDF in seconds, beside a script on pdfkit and qr, the fastest encoder',
    plain,
    fastestTime,
    'lower',
  );
  report(
    '10,000 labels to PDF with every code read back at 300 dpi, beside the first script',
    read,
    uqrTime,
    'lower',
  );
}
