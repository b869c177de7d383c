import { counted } from '../../core/base/words';
import type { DrawItem } from '../../core/drawing/drawing';
import { assemblePdf, pageContent, type GlyphUse } from '../../core/artwork/pdf';
import { fitText } from '../../core/piece/text';
import { encode, usualSymbology } from '../../core/symbology';
import { paperName, type PaperSize, type PrinterFacts } from '../../core/run/printer';
import { testPageDots, testPageText } from '../../core/run/test-page';
import { type Database, deflate, fontBook } from '../platform';

/** The paper of a test page, in mm: the paper in the printer, A4 or Letter. */
export function testPageSize(facts: PrinterFacts | null): PaperSize {
  const [a4, letter] = [
    { width: 210, height: 297 },
    { width: 215.9, height: 279.4 },
  ];
  const named = facts?.loaded.map(paperName) ?? [];
  return named.includes('Letter') && !named.includes('A4') ? letter : a4;
}
const ink = '#000000';

/**
 * A page that shows what a printer resolves and where it prints: rulers from two corners, and codes
 * of smaller and smaller modules.
 */
export async function testPage(db: Database, id: number): Promise<Uint8Array> {
  const printer = await db
    .selectFrom('printers')
    .selectAll()
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const { width, height } = testPageSize(printer.facts);
  const fonts = fontBook(['atkinson', 'bricolage-bold', 'mono']);
  const items: DrawItem[] = [];
  const rect = (x: number, y: number, width: number, height: number) =>
    items.push({ kind: 'rect', x, y, width, height, fill: ink });
  const text = (
    words: string,
    x: number,
    y: number,
    sizePt: number,
    font = 'atkinson',
    width = 170,
  ) =>
    items.push(
      ...fitText(
        words,
        { font, sizePt, minPt: sizePt, lines: 3, align: 'left', colour: ink },
        x,
        y,
        width,
        fonts,
      ).items,
    );
  // rulers in mm along the top and the left, from the very edge of the sheet
  for (let mm = 0; mm <= width - 10; mm++)
    rect(mm - 0.05, 0, 0.1, mm % 10 === 0 ? 6 : mm % 5 === 0 ? 4 : 2.5);
  for (let mm = 0; mm <= height - 7; mm++)
    rect(0, mm - 0.05, mm % 10 === 0 ? 6 : mm % 5 === 0 ? 4 : 2.5, 0.1);
  for (let mm = 10; mm <= width - 20; mm += 10) text(String(mm), mm + 0.6, 3.4, 6, 'mono', 10);
  for (let mm = 10; mm <= height - 17; mm += 10) text(String(mm), 3.4, mm + 0.4, 6, 'mono', 10);
  text(`Test page of ${printer.name}`, 20, 14, 18, 'bricolage-bold');
  text(
    'Print at 100%, not fitted to the page. Lay a ruler along the two scales: the number at the paper edge is the offset. Scan the codes from the coarsest on. The last one that reads has the finest squares this printer can print.',
    20,
    24,
    10,
  );
  let [x, y] = [20, 46];
  for (const dots of testPageDots) {
    const moduleMm = (dots * 25.4) / printer.dpi;
    const symbol = encode(usualSymbology, testPageText(printer.name, dots, moduleMm), {
      level: 'M',
    });
    const size = symbol.columns * moduleMm;
    if (x + size > width - 15) [x, y] = [20, y + 58];
    items.push({ kind: 'code', symbol, x, y, moduleMm, fill: ink });
    text(`${counted(dots, 'dot')}, ${moduleMm.toFixed(3)} mm`, x, y + size + 1.5, 7, 'mono', 40);
    x += Math.max(size, 24) + 8;
  }
  const used: GlyphUse = new Map();
  const content = deflate(pageContent({ widthMm: width, heightMm: height, items }, fonts, used));
  const info = {
    title: `Test page, ${printer.name}`,
    pageWidthMm: width,
    pageHeightMm: height,
    date: new Date(0),
  };
  const parts: Uint8Array[] = [];
  for await (const part of assemblePdf([content], used, fonts, info, deflate))
    parts.push(Uint8Array.from(part));
  return new Uint8Array(Buffer.concat(parts));
}
