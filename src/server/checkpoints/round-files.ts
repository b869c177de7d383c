import { fontsFor } from '../../core/artwork/font-catalogue';
import { assemblePdf, pageContent, type GlyphUse } from '../../core/artwork/pdf';
import { counted } from '../../core/base/words';
import {
  outcomeOf,
  outcomeWords,
  roundOutcomes,
  type RoundOutcome,
} from '../../core/checkpoint/round';
import type { DrawItem } from '../../core/drawing/drawing';
import { fitText } from '../../core/piece/text';
import { type Database, deflate, fontBook, newWorkbook, Refusal } from '../platform';
import { linesOfRound, type ReportLine } from './rounds';

const headings = ['Result', 'Title', 'Key', 'Location', 'Found at'];
const cells = (line: ReportLine): string[] => [
  outcomeOf(line),
  line.title,
  line.key,
  line.place,
  line.seenAt ?? '',
];

/** The report of a closed round as a workbook: what needs an eye, and everything. */
export async function roundBook(db: Database, id: number): Promise<Uint8Array> {
  const { lines } = await linesOfRound(db, id);
  const book = await newWorkbook();
  const sheetOf = (name: string, of: readonly ReportLine[]) => {
    const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] });
    sheet.columns = headings.map((header) => ({ header, width: 26, style: { numFmt: '@' } }));
    sheet.getRow(1).font = { bold: true };
    for (const line of of) sheet.addRow(cells(line));
  };
  sheetOf(
    'Needs a look',
    lines.filter((line) => line.outcome !== 'seen'),
  );
  sheetOf('All', lines);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

const page = { width: 210, height: 297, left: 20, top: 18, bottom: 20 };
const ink = '#1d1a26';
const soft = '#575564';
/** Most lines that are printed: some 80 pages. */
const mostPrinted = 4000;

/**
 * The same on paper: what is missing, moved, elsewhere or new is listed; what is in its place is
 * counted.
 */
export async function roundPdf(db: Database, id: number): Promise<Uint8Array> {
  const { at, lines } = await linesOfRound(db, id);
  const shown = lines.filter((line) => line.outcome !== 'seen');
  if (shown.length > mostPrinted)
    throw new Refusal(
      `The report has ${shown.length.toLocaleString('en')} lines that need a look; a PDF holds ${mostPrinted.toLocaleString('en')}. Download the workbook.`,
      413,
    );
  const texts = [at.name, at.listName, ...shown.flatMap((line) => cells(line))];
  const fonts = fontBook(
    texts.flatMap((text) =>
      ['bricolage-bold', 'atkinson', 'atkinson-bold'].flatMap((key) => fontsFor(text, key)),
    ),
  );
  const pages: DrawItem[][] = [[]];
  let y = page.top;
  const text = (
    words: string,
    x: number,
    width: number,
    font: string,
    sizePt: number,
    colour = ink,
  ): number => {
    const fitted = fitText(
      words,
      { font, sizePt, minPt: sizePt * 0.7, lines: 1, align: 'left', colour },
      x,
      y,
      width,
      fonts,
    );
    pages.at(-1)!.push(...fitted.items);
    return fitted.heightMm;
  };
  const room = (height: number) => {
    if (y + height <= page.height - page.bottom) return;
    pages.push([]);
    y = page.top;
  };
  y += text('Round', page.left, 170, 'atkinson', 11, soft) + 1;
  y += text(at.name, page.left, 170, 'bricolage-bold', 22) + 2;
  const day = (date: Date | null) => date?.toISOString().slice(0, 16).replace('T', ' ') ?? '';
  y += text(
    `${at.listName}, started ${day(at.created_at)}, closed ${day(at.closed_at)} UTC`,
    page.left,
    170,
    'atkinson',
    10,
    soft,
  );
  const count = (outcome: RoundOutcome) => lines.filter((l) => l.outcome === outcome).length;
  y += 1.5;
  y += text(
    `${counted(count('seen'), 'record')} found where ${count('seen') === 1 ? 'it belongs' : 'they belong'}`,
    page.left,
    170,
    'atkinson-bold',
    11,
  );
  for (const outcome of roundOutcomes) {
    const of = shown.filter((line) => line.outcome === outcome);
    if (of.length === 0) continue;
    room(22);
    y += 5;
    pages.at(-1)!.push({ kind: 'rect', x: page.left, y, width: 170, height: 0.25, fill: ink });
    y += 2;
    y += text(
      `${outcomeWords[outcome]}: ${of.length.toLocaleString('en')}`,
      page.left,
      170,
      'atkinson-bold',
      11,
    );
    y += 1;
    for (const line of of) {
      room(5);
      text(line.title || 'no record', page.left, 66, 'atkinson', 9.5);
      text(line.key, page.left + 68, 40, 'atkinson', 9.5, soft);
      y += text(
        line.seenAt === null
          ? line.place
          : `${line.place || '(no location)'}, found at ${line.seenAt}`,
        page.left + 110,
        60,
        'atkinson',
        9.5,
        soft,
      );
      y += 0.6;
    }
  }
  const used: GlyphUse = new Map();
  const contents = pages.map((items) =>
    deflate(pageContent({ widthMm: page.width, heightMm: page.height, items }, fonts, used)),
  );
  const parts: Uint8Array[] = [];
  for await (const part of assemblePdf(
    contents,
    used,
    fonts,
    {
      title: at.name,
      pageWidthMm: page.width,
      pageHeightMm: page.height,
      date: at.closed_at ?? at.created_at,
    },
    deflate,
  ))
    parts.push(Uint8Array.from(part));
  return new Uint8Array(Buffer.concat(parts));
}
