import { answerWords } from '../../core/checkpoint/answer';
import { csvLines, type Database, newWorkbook, Refusal } from '../platform';
import { tapeRows } from './board';

const headings = [
  'When (UTC)',
  'Answer',
  'Why',
  'Title',
  'Key',
  'Session',
  'Where scanned',
  'How',
  'Reason',
  'Offline',
  'The list said',
  'Let in elsewhere',
  'Undone',
];
const ways = {
  camera: 'camera',
  reader: 'reader',
  picture: 'picture',
  hand: 'by hand',
  page: 'self check-in',
} as const;

type Row = Awaited<ReturnType<ReturnType<typeof tapeRows>['execute']>>['rows'][number];

/** @param all whether the contents of unknown codes are shown */
const cells = (row: Row, all: boolean): string[] => [
  row.at.toISOString(),
  row.answer === 'taken-back' ? 'undone' : answerWords[row.answer],
  [row.why, all && row.text ? `scanned: ${row.text}` : ''].filter(Boolean).join('; '),
  row.title,
  row.record_key,
  row.session ?? '',
  row.who,
  ways[row.how],
  row.reason ?? '',
  row.apart ? 'yes' : '',
  row.found === null ? '' : answerWords[row.found],
  row.other_at === null
    ? ''
    : `${row.other_at.toISOString()} ${row.other_where} (${row.other_who})`,
  row.back ? 'yes' : '',
];

const inOneGo = 2000;
const mostInBook = 100_000;

/** A tape as CSV (RFC 4180), UTF-8 with a mark, the latest first. */
export async function* logCsv(
  db: Database,
  checkpoint: number,
  all: boolean,
): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode(csvLines([headings], { bom: true }));
  for (let before: number | undefined; ;) {
    const { rows } = await tapeRows(checkpoint, before, inOneGo).execute(db);
    if (rows.length === 0) return;
    yield encoder.encode(csvLines(rows.map((row) => cells(row, all))));
    before = rows.at(-1)!.id;
  }
}

/** The same as a workbook. @throws Refusal if it is longer than a workbook may be here */
export async function logBook(db: Database, checkpoint: number, all: boolean): Promise<Uint8Array> {
  const { n } = await db
    .selectFrom('checkpoint_scans')
    .select((e) => e.fn.countAll<number>().as('n'))
    .where('checkpoint_id', '=', checkpoint)
    .executeTakeFirstOrThrow();
  if (n > mostInBook)
    throw new Refusal(
      `The tape has ${n.toLocaleString('en')} lines; a workbook holds ${mostInBook.toLocaleString('en')}. Download it as CSV.`,
      413,
    );
  const book = await newWorkbook();
  const sheet = book.addWorksheet('Log', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = headings.map((header) => ({
    header,
    width: Math.max(14, header.length + 2),
    style: { numFmt: '@' },
  }));
  sheet.getRow(1).font = { bold: true };
  for (let before: number | undefined; ;) {
    const { rows } = await tapeRows(checkpoint, before, inOneGo).execute(db);
    if (rows.length === 0) break;
    for (const row of rows) sheet.addRow(cells(row, all));
    before = rows.at(-1)!.id;
  }
  return new Uint8Array(await book.xlsx.writeBuffer());
}
