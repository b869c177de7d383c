import { counted } from '../../core/base/words';
import type { z } from 'zod';
import type { DrawItem } from '../../core/drawing/drawing';
import { assemblePdf, pageContent, type GlyphUse } from '../../core/artwork/pdf';
import { fitText } from '../../core/piece/text';
import { encode, usualSymbology } from '../../core/symbology';
import type { printerSchema } from '../../contract';
import { type PrinterView, type PrintJobView } from '../../contract';
import { type Database, deflate, fontBook, Refusal } from '../platform';

/** The stand-in prints a sheet in this time, in ms, after warming up. */
const sheetTime = 700;
const warmUp = 1500;

function stateOf(job: { sheets: number; sent_at: Date; stopped_at: Date | null }): {
  state: PrintJobView['state'];
  printed: number;
} {
  const passed = (job.stopped_at ?? new Date()).getTime() - job.sent_at.getTime() - warmUp;
  const printed = Math.max(0, Math.min(job.sheets, Math.floor(passed / sheetTime)));
  if (printed >= job.sheets) return { state: 'printed', printed };
  if (job.stopped_at) return { state: 'stopped', printed };
  return { state: passed < 0 ? 'waiting' : 'printing', printed };
}

export async function listPrinters(db: Database): Promise<PrinterView[]> {
  const printers = await db.selectFrom('printers').selectAll().orderBy('id').execute();
  const jobs = await db
    .selectFrom('print_jobs')
    .selectAll()
    .orderBy('id', 'desc')
    .limit(60)
    .execute();
  return printers.map((p) => ({
    id: p.id,
    name: p.name,
    dpi: p.dpi,
    offsetX: p.offset_x,
    offsetY: p.offset_y,
    finest: p.finest_dots,
    jobs: jobs
      .filter((j) => j.printer_id === p.id)
      .map((j) => ({
        id: j.id,
        name: j.name,
        sheets: j.sheets,
        sent: j.sent_at.toISOString(),
        ...stateOf(j),
      })),
  }));
}

export async function keepPrinter(
  db: Database,
  id: number | undefined,
  wanted: z.infer<typeof printerSchema>,
): Promise<void> {
  const row = {
    name: wanted.name,
    dpi: wanted.dpi,
    offset_x: wanted.offsetX,
    offset_y: wanted.offsetY,
    finest_dots: wanted.finest,
  };
  const same = await db
    .selectFrom('printers')
    .select('id')
    .where('name', '=', wanted.name)
    .executeTakeFirst();
  if (same && same.id !== id)
    throw new Refusal(`There is a printer called ${wanted.name} already.`);
  if (id === undefined) await db.insertInto('printers').values(row).execute();
  else await db.updateTable('printers').set(row).where('id', '=', id).execute();
}

/** Sends a finished run to a printer. */
export async function sendToPrinter(db: Database, printer: number, runId: number): Promise<void> {
  const run = await db
    .selectFrom('runs')
    .select(['name', 'sheets', 'state'])
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  if (run.state !== 'done' || run.sheets === 0)
    throw new Refusal('Only a finished PDF for print can be sent to a printer.');
  await db
    .insertInto('print_jobs')
    .values({ printer_id: printer, run_id: runId, name: run.name, sheets: run.sheets })
    .execute();
}

export async function stopPrint(db: Database, id: number): Promise<void> {
  await db
    .updateTable('print_jobs')
    .set({ stopped_at: new Date() })
    .where('id', '=', id)
    .where('stopped_at', 'is', null)
    .execute();
}

const page = { width: 210, height: 297 };
const ink = '#000000';

/** A page that shows what a printer resolves and where it prints: rulers from two corners, and codes of finer and finer modules. */
export async function testPage(db: Database, id: number): Promise<Uint8Array> {
  const printer = await db
    .selectFrom('printers')
    .selectAll()
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
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
  for (let mm = 0; mm <= 200; mm++)
    rect(mm - 0.05, 0, 0.1, mm % 10 === 0 ? 6 : mm % 5 === 0 ? 4 : 2.5);
  for (let mm = 0; mm <= 290; mm++)
    rect(0, mm - 0.05, mm % 10 === 0 ? 6 : mm % 5 === 0 ? 4 : 2.5, 0.1);
  for (let mm = 10; mm <= 190; mm += 10) text(String(mm), mm + 0.6, 3.4, 6, 'mono', 10);
  for (let mm = 10; mm <= 280; mm += 10) text(String(mm), 3.4, mm + 0.4, 6, 'mono', 10);
  text(`Test page of ${printer.name}`, 20, 14, 18, 'bricolage-bold');
  text(
    'Print it at 100%, without fitting it to the page. Lay a ruler along the two scales: what stands at the edge of the paper is the offset. Scan the codes from the coarsest on: the last one that reads has the finest module this printer makes.',
    20,
    24,
    10,
  );
  let [x, y] = [20, 46];
  for (let dots = 12; dots >= 1; dots--) {
    const moduleMm = (dots * 25.4) / printer.dpi;
    const symbol = encode(
      usualSymbology,
      `${printer.name}: ${counted(dots, 'dot')} a module, ${moduleMm.toFixed(3)} mm`,
      {
        level: 'M',
      },
    );
    const size = symbol.columns * moduleMm;
    if (x + size > page.width - 15) [x, y] = [20, y + 58];
    items.push({ kind: 'code', symbol, x, y, moduleMm, fill: ink });
    text(`${counted(dots, 'dot')}, ${moduleMm.toFixed(3)} mm`, x, y + size + 1.5, 7, 'mono', 40);
    x += Math.max(size, 24) + 8;
  }
  const used: GlyphUse = new Map();
  const content = deflate(
    pageContent({ widthMm: page.width, heightMm: page.height, items }, fonts, used),
  );
  const info = {
    title: `Test page, ${printer.name}`,
    pageWidthMm: page.width,
    pageHeightMm: page.height,
    date: new Date(0),
  };
  const parts: Uint8Array[] = [];
  for await (const part of assemblePdf([content], used, fonts, info, deflate))
    parts.push(Uint8Array.from(part));
  return new Uint8Array(Buffer.concat(parts));
}
