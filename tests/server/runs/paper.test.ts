import { mkdtempSync, readdirSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, onTestFinished, test } from 'vitest';
import { readImages } from '../../../src/core/readback/readback';
import { provideReader } from '../../../src/server/platform/reader';
import { readFilePieces } from '../../../src/server/platform/files';
import {
  addPrinter,
  changePrinter,
  listPrinters,
  sendToPrinter,
} from '../../../src/server/delivery';
import { stepPrint } from '../../../src/server/delivery/printing';
import { hearPaper } from '../../../src/server/sources';
import {
  listPaperFiles,
  paperSheet,
  readFromPaper,
  receiptPages,
  receiptPart,
  takePaperFile,
  viewRun,
} from '../../../src/server/runs';
import { readPaperFile } from '../../../src/server/runs/paper-files';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
  provideReader();
});
afterAll(() => t.close());
const { job, run } = runsIn(() => t);

const many = (n: number, first = 1) =>
  Array.from({ length: n }, (_, i) => [`P-${String(first + i).padStart(3, '0')}`, `Plant ${i}`]);

/** The printed pages of a run as pictures. */
async function pictures(id: number): Promise<Uint8Array[]> {
  const { files } = await viewRun(t.db, id);
  const pdf = files.find((f) => f.name.endsWith('.pdf') && !f.name.includes('receipt'))!;
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(t.db, pdf.id)) parts.push(part);
  return renderPdf(Buffer.concat(parts), 200, 'png');
}
const at = (text: string) => ({ text, x: 0, y: 0 });
const codesOn = async (picture: Uint8Array) =>
  (await readImages(new Uint8Array(picture), undefined, 255)).map((one) => ({
    text: one.text,
    ...one.middle,
  }));

test('pictures of printed sheets say which codes read from the paper, which page is not there, and what is of another run', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], many(40));
  const made = await run(id, { name: 'Labels', which: 'ready', ticked: [] });
  const sheets = await pictures(made);
  const pages = await receiptPages(t.db, made);
  expect(sheets).toHaveLength(pages.length);
  expect(pages.length).toBeGreaterThan(1);
  const first = await codesOn(sheets[0]!);
  expect(first).toHaveLength(pages[0]!.codes);
  // two are spoilt; a foreign one lies next to them
  const told = await readFromPaper(
    t.db,
    made,
    [{ name: 'sheet.jpg', codes: [...first.slice(2), at('nobody'), at('a\u0000b')] }],
    'Ines',
  );
  expect(told).toEqual([
    {
      name: 'sheet.jpg',
      found: first.length - 2,
      printed: first.length,
      pages: [1],
      other: 2,
      otherRuns: [],
      before: [],
      shift: null,
      misplaced: [],
    },
  ]);
  const now = await receiptPages(t.db, made);
  expect(now.map((p) => p.paper)).toEqual([first.length - 2, ...pages.slice(1).map(() => 0)]);
  const lines = await receiptPart(t.db, made, { page: 1 });
  expect(
    lines
      .filter((l) => l.paper === 'not-read')
      .map((l) => l.payload)
      .sort(),
  ).toEqual(
    first
      .slice(0, 2)
      .map((one) => one.text)
      .sort(),
  );
  expect((await receiptPart(t.db, made, { page: 2 })).every((l) => l.paper === null)).toBe(true);
  // another picture of the same sheet adds what that one shows
  const [twice] = await readFromPaper(t.db, made, [{ name: 'again.jpg', codes: first }], 'Ines');
  expect(twice!.before).toEqual(['sheet.jpg']);
  expect((await receiptPages(t.db, made))[0]!.paper).toBe(first.length);
  // two labels that were peeled off and stuck on the other's place
  const swapped = first.map((one, i) =>
    i === 3 ? { ...one, text: first[9]!.text } : i === 9 ? { ...one, text: first[3]!.text } : one,
  );
  const [odd] = await readFromPaper(t.db, made, [{ name: 'b', codes: swapped }], 'Ines');
  expect(odd!.misplaced.map((one) => one.page)).toEqual([1, 1]);
  const other = await run(id, { name: 'Labels again', which: 'ready', ticked: [] });
  const wrong = await readFromPaper(t.db, other, [{ name: 'x', codes: [at('P-001')] }], 'Ines');
  expect(wrong[0]).toMatchObject({ found: 1 });
});

test('copies are marked as often as a picture shows them', async () => {
  const { id } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['C-1', 'Thrift'],
      ['C-2', 'Kale'],
    ],
  );
  const { viewJob, changeJob } = await import('../../../src/server/jobs');
  const { version, document } = await viewJob(t.db, id);
  await changeJob(
    t.db,
    id,
    { version, document: { ...document, options: { ...document.options, copies: 3 } } },
    'test',
  );
  const made = await run(id, { name: 'Copies', which: 'ready', ticked: [] });
  await readFromPaper(
    t.db,
    made,
    [{ name: 'a', codes: [at('C-1'), at('C-1'), at('C-2')] }],
    'Ines',
  );
  const lines = await receiptPart(t.db, made, { page: 1 });
  const read = (payload: string) =>
    lines.filter((l) => l.payload === payload && l.paper === 'read').length;
  expect([read('C-1'), read('C-2')]).toEqual([2, 1]);
  // the same picture once more, from two windows at once, marks no copy that it does not show
  const again = { name: 'a', codes: [at('C-1'), at('C-1'), at('C-2')] };
  const twice = await Promise.all([1, 2].map(() => readFromPaper(t.db, made, [again], 'Ines')));
  expect(twice.map(([one]) => [one!.found, one!.before])).toEqual([
    [3, []],
    [3, []],
  ]);
  const then = await receiptPart(t.db, made, { page: 1 });
  expect(then.filter((l) => l.paper === 'read')).toHaveLength(3);
});

test('the whole circle: a stand-in prints with its faults into the In-tray, and what lies there is read once, by the run it is of', async () => {
  const tray = mkdtempSync(join(tmpdir(), 'hand-stamp-tray-'));
  const before = process.env.HAND_STAMP_TRAY;
  process.env.HAND_STAMP_TRAY = tray;
  onTestFinished(() => {
    if (before === undefined) delete process.env.HAND_STAMP_TRAY;
    else process.env.HAND_STAMP_TRAY = before;
    rmSync(tray, { recursive: true, force: true });
  });
  const rows = many(30, 500);
  const { id } = await job(['No', 'Name'], ['key', 'name'], rows);
  const made = await run(id, { name: 'Beds', which: 'ready', ticked: [] });
  const known = { dpi: 600, offsetX: 0, offsetY: 0, finest: null, address: null };
  const printer = { ...known, name: 'Paper', faults: ['offset' as const], intoTray: true };
  await addPrinter(t.db, printer);
  const [own] = (await listPrinters(t.db, true)).filter((p) => p.name === 'Paper');
  expect(await sendToPrinter(t.db, own!.id, { run: made })).toMatchObject({ sent: true });
  const [sent] = (await listPrinters(t.db, true)).find((p) => p.id === own!.id)!.jobs;
  // from now on it prints no more paper; a job on its way is finished all the same
  await changePrinter(t.db, own!.id, { ...printer, intoTray: false });
  // two workers at once print it once
  await Promise.all([stepPrint(t.db, sent!.id), stepPrint(t.db, sent!.id)]);
  await changePrinter(t.db, own!.id, printer);
  const [printed] = (await listPrinters(t.db, true)).find((p) => p.id === own!.id)!.jobs;
  expect(printed).toMatchObject({ state: 'printed', printed: 2 });
  const folder = join(tray, 'Printed sheets');
  expect(readdirSync(folder).sort()).toEqual([
    `Beds-${sent!.id}-page-1.png`,
    `Beds-${sent!.id}-page-2.png`,
  ]);
  writeFileSync(join(folder, 'note.pdf'), 'no PDF');
  writeFileSync(join(folder, 'shopping.txt'), 'milk');
  symlinkSync('/etc/passwd', join(folder, 'passwd.png'));
  await Promise.all([hearPaper(t.db), hearPaper(t.db)]);
  await hearPaper(t.db);
  const files = await listPaperFiles(t.db, 'tray');
  expect(files.map((f) => [f.name, f.state]).sort()).toEqual([
    [`Beds-${sent!.id}-page-1.png`, 'waiting'],
    [`Beds-${sent!.id}-page-2.png`, 'waiting'],
    ['note.pdf', 'waiting'],
  ]);
  await Promise.all(files.flatMap((f) => [readPaperFile(t.db, f.id), readPaperFile(t.db, f.id)]));
  const read = await listPaperFiles(t.db, 'tray');
  expect(read.find((f) => f.name === 'note.pdf')).toMatchObject({
    state: 'failed',
    error: 'note.pdf is not a PDF or a picture. Scan to PDF, PNG, JPEG or TIFF.',
  });
  for (const page of [1, 2])
    expect(read.find((f) => f.name.endsWith(`page-${page}.png`))!.told).toEqual([
      expect.objectContaining({
        run: { id: made, name: 'Beds', job: id },
        picture: expect.objectContaining({ pages: [page], other: 0, misplaced: [] }) as unknown,
      }),
    ]);
  const pages = await receiptPages(t.db, made);
  expect(pages.map((p) => p.paper)).toEqual(pages.map((p) => p.codes));
  // the feed of this printer draws sheets in some mm beside, and the scan says so
  const shifts = read.flatMap((f) => f.told.flatMap((one) => one.picture?.shift ?? []));
  expect(shifts).toHaveLength(2);
  expect(Math.max(...shifts.map(({ x, y }) => Math.hypot(x, y)))).toBeGreaterThan(0.8);
  // its test page comes the same way, and says how fine it prints
  await sendToPrinter(t.db, own!.id, 'test page');
  const view = async () => (await listPrinters(t.db, true)).find((p) => p.id === own!.id)!;
  expect((await view()).finest).toBeNull();
  await stepPrint(t.db, (await view()).jobs[0]!.id);
  await hearPaper(t.db);
  const page = (await listPaperFiles(t.db, 'tray')).find((f) => f.state === 'waiting')!;
  await readPaperFile(t.db, page.id);
  const { finest } = await view();
  expect(finest).toBeGreaterThan(0);
  expect(finest).toBeLessThan(12);
  expect((await listPaperFiles(t.db, 'tray')).find((f) => f.id === page.id)!.told).toEqual([
    expect.objectContaining({ run: null, testPage: { printer: 'Paper', finest } }),
  ]);
  const marked = await t.db
    .selectFrom('paper_pictures')
    .select('name')
    .where('run_id', '=', made)
    .execute();
  expect(marked).toHaveLength(2);
  expect((await viewRun(t.db, made)).onPaper).toBe(true);
});

test('a scan of several sheets as a PDF, and where on a sheet everything stands', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], many(40, 700));
  const made = await run(id, { name: 'Pots', which: 'ready', ticked: [] });
  const { files } = await viewRun(t.db, made);
  const pdf = files.find((f) => f.name.endsWith('.pdf') && !f.name.includes('receipt'))!;
  const parts: Uint8Array[] = [];
  for await (const part of readFilePieces(t.db, pdf.id)) parts.push(part);
  const file = await takePaperFile(t.db, made, 'scan.pdf', Buffer.concat(parts), 'Ines');
  await readPaperFile(t.db, file);
  const [told] = await listPaperFiles(t.db, made);
  expect(told!.told.map((one) => [one.picture!.name, one.picture!.pages])).toEqual([
    ['scan.pdf, page 1', [1]],
    ['scan.pdf, page 2', [2]],
  ]);
  const whole = await paperSheet(t.db, made, 1);
  expect(whole).toMatchObject({ width: 210, height: 297, others: [] });
  expect(new Set(whole.places.map((p) => p.is))).toEqual(new Set(['read']));
  // a second run of the same: two labels swapped, one covered by a foreign one
  const again = await run(id, { name: 'Pots again', which: 'ready', ticked: [] });
  const codes = await codesOn((await pictures(again))[0]!);
  const odd = codes.map((one, i) =>
    i === 2 ? { ...one, text: codes[8]!.text } : i === 8 ? { ...one, text: codes[2]!.text } : one,
  );
  const covered = odd.map((one, i) => (i === 15 ? { ...one, text: 'nobody' } : one));
  await readFromPaper(t.db, again, [{ name: 'odd.png', codes: covered }], 'Ines');
  const sheet = await paperSheet(t.db, again, 1);
  expect(sheet.places.filter((p) => p.is === 'misplaced')).toHaveLength(2);
  const [gone] = sheet.places.filter((p) => p.is === 'not-read');
  expect(sheet.others).toHaveLength(1);
  expect(Math.hypot(sheet.others[0]!.x - gone!.x, sheet.others[0]!.y - gone!.y)).toBeLessThan(2);
  await expect(paperSheet(t.db, again, 9)).rejects.toThrow('does not exist');
  await expect(takePaperFile(t.db, made, 'a.txt', Buffer.from('hello'), 'Ines')).rejects.toThrow(
    'not a PDF or a picture',
  );
  const locked = await takePaperFile(t.db, made, 'x.pdf', Buffer.from('%PDF-1.7 broken'), 'Ines');
  await readPaperFile(t.db, locked);
  expect((await listPaperFiles(t.db, made))[0]).toMatchObject({
    state: 'failed',
    error: 'x.pdf could not be opened: it is damaged, or locked. Save it again and try again.',
  });
});
