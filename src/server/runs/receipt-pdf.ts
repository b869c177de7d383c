import { counted } from '../../core/base/words';
import type { DrawItem } from '../../core/drawing/drawing';
import { assemblePdf, pageContent, type GlyphUse } from '../../core/artwork/pdf';
import { type FrozenRun, readRun } from '../../core/job/document';
import { stockOf } from '../../core/piece/stock';
import { fitText } from '../../core/piece/text';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { symbologies } from '../../core/symbology';
import { type Database, deflate, fontBook } from '../platform';
import { fontsFor } from '../../core/artwork/font-catalogue';
import { receiptLines } from './receipt';

const page = { width: 210, height: 297 };
const ink = '#1d1a26';
const soft = '#575564';
const most = 28;

/**
 * The receipt of a run on one page: what it was made from, what was read, page by page, and what
 * failed.
 */
export async function receiptPdf(db: Database, runId: number): Promise<Uint8Array> {
  const run = await db
    .selectFrom('runs')
    .selectAll()
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  const list = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.name as job', 'lists.name as list'])
    .where('jobs.id', '=', run.job_id)
    .executeTakeFirstOrThrow();
  const frozen = readRun(run.frozen);
  const failed: string[] = [];
  for await (const line of receiptLines(db, runId, frozen))
    if (line.result !== 'read' && failed.length < most)
      failed.push(
        `${line.title || line.key}: page ${line.page}, seat ${line.place}, ${line.result === 'unread' ? 'does not read' : `reads as ${line.readsAs}`}`,
      );
  const rows = rowsOf(run, list, frozen);
  const texts = [
    run.name,
    ...rows.flat(),
    ...failed,
    ...run.left_out.map((l) => `${l.title} ${l.reason}`),
  ];
  const fonts = fontBook(
    texts.flatMap((t) =>
      ['bricolage-bold', 'atkinson', 'atkinson-bold'].flatMap((key) => fontsFor(t, key)),
    ),
  );
  const items: DrawItem[] = [];
  let y = 20;
  const text = (
    words: string,
    x: number,
    width: number,
    font: string,
    sizePt: number,
    colour = ink,
    lines = 1,
  ) => {
    const fitted = fitText(
      words,
      { font, sizePt, minPt: sizePt, lines, align: 'left', colour },
      x,
      y,
      width,
      fonts,
    );
    items.push(...fitted.items);
    return fitted.heightMm;
  };
  y += text('Receipt', 20, 170, 'atkinson', 11, soft) + 1;
  y += text(run.name, 20, 170, 'bricolage-bold', 22) + 4;
  for (const [what, value] of rows) {
    text(what, 20, 44, 'atkinson', 10, soft);
    y += Math.max(5.2, text(value, 66, 124, 'atkinson', 10, ink, 3));
  }
  const section = (title: string, lines: readonly string[], all: number) => {
    if (all === 0) return;
    y += 5;
    items.push({ kind: 'rect', x: 20, y, width: 170, height: 0.25, fill: ink });
    y += 2;
    y += text(`${title}: ${all.toLocaleString('en')}`, 20, 170, 'atkinson-bold', 11) + 1;
    for (const line of lines) if (y < page.height - 26) y += text(line, 20, 170, 'atkinson', 9);
    if (all > lines.length)
      y += text(
        `and ${(all - lines.length).toLocaleString('en')} more`,
        20,
        170,
        'atkinson',
        9,
        soft,
      );
  };
  section('Codes that do not read', failed, run.codes_failed);
  section(
    'Left out',
    run.left_out
      .slice(0, Math.max(6, most - failed.length))
      .map((l) => `${l.title || '(no title)'}: ${l.reason}`),
    run.left_out.length,
  );
  y = page.height - 16;
  text(
    'Every code was read back by an independent reader from the finished artwork and compared with its record.',
    20,
    170,
    'atkinson',
    8.5,
    soft,
  );
  const used: GlyphUse = new Map();
  const content = deflate(
    pageContent({ widthMm: page.width, heightMm: page.height, items }, fonts, used),
  );
  const info = {
    title: `Receipt, ${run.name}`,
    pageWidthMm: page.width,
    pageHeightMm: page.height,
    date: new Date(frozen.date),
  };
  const parts: Uint8Array[] = [];
  for await (const part of assemblePdf([content], used, fonts, info, deflate))
    parts.push(Uint8Array.from(part));
  return new Uint8Array(Buffer.concat(parts));
}

interface Run {
  id: number;
  pieces: number;
  sheets: number;
  codes: number;
  codes_read: number;
  codes_failed: number;
  created_by: string;
  started_at: Date | null;
  finished_at: Date | null;
}

function rowsOf(
  run: Run,
  list: { job: string; list: string },
  frozen: FrozenRun,
): [string, string][] {
  const when = (date: Date | null) =>
    date ? `${date.toISOString().slice(0, 10)} ${date.toISOString().slice(11, 16)} UTC` : 'not yet';
  const output = outputOf(frozen.output?.kind ?? usualOutput);
  return [
    ['Run', `number ${run.id}, by ${run.created_by}`],
    ['Job', `${list.job}, version ${frozen.jobVersion}`],
    ['List', `${list.list}, revision ${frozen.listRevision}`],
    ['Made', output.name],
    [
      'Pieces',
      `${run.pieces.toLocaleString('en')}${run.sheets ? ` on ${counted(run.sheets, 'sheet')}, ${stockOf(frozen.piece).name}` : ''}`,
    ],
    ['Stamps', frozen.stamps.map((s) => `${s.name}, ${symbologies[s.symbology].name}`).join('; ')],
    ['Started, done', `${when(run.started_at)}, ${when(run.finished_at)}`],
    ['Codes', run.codes.toLocaleString('en')],
    [
      'Read back',
      (run.codes_failed === 0
        ? `all ${run.codes.toLocaleString('en')}`
        : `${run.codes_read.toLocaleString('en')}; ${run.codes_failed.toLocaleString('en')} do not read`) +
        (output.readFrom ? `, from ${output.readFrom}` : ''),
    ],
  ];
}
