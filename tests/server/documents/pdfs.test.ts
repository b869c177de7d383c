import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import {
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { degrees, PDFDocument, rgb, StandardFonts } from '@cantoo/pdf-lib';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { viewSchema } from '../../../src/contract';
import type { PdfsGround } from '../../../src/core/piece/ground';
import {
  documentsCame,
  keepPdf,
  pageOfDocument,
  pdfsInJob,
  startSet,
} from '../../../src/server/documents';
import { changeJob, ledgerRows, viewJob } from '../../../src/server/jobs';
import { judgeRecords, rejudgePiece } from '../../../src/server/judging';
import { assembleRun, runChunk } from '../../../src/server/runs/making';
import { startRun } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { trayEntries, trayPdfs } from '../../../src/server/sources';
import { readAll, readPlaces } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { pdfText, renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  t = await testDatabase();
});
afterAll(() => t.close());
const runs = runsIn(() => t);

const loans = [
  ['L-0007', 'Odile Fenwick'],
  ['L-0008', 'Teo Brandt'],
  ['L-0009', 'Saltmarsh School'],
];

async function letter(words: string, { title = '', turn = 0, pages = 1 } = {}): Promise<Buffer> {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let n = 0; n < pages; n++) {
    const page = document.addPage([420, 595]);
    page.setRotation(degrees(turn));
    page.drawText(words, { x: 60, y: 400, size: 12, font });
  }
  document.setTitle(title);
  return Buffer.from(await document.save());
}

async function pdfJob(
  files: Readonly<Record<string, Buffer>>,
  change: Partial<PdfsGround> = {},
  rows = loans,
) {
  const job = await runs.job(['Loan', 'Borrower'], ['key', 'name'], rows);
  const set = await startSet(t.db, 'agreements.zip', 'test');
  for (const [name, bytes] of Object.entries(files)) await keepPdf(t.db, set, name, bytes, 'test');
  const { version, document } = await viewJob(t.db, job.id);
  const ground: PdfsGround = {
    kind: 'pdfs',
    set,
    name: 'agreements.zip',
    knownBy: 'name',
    column: 'c1',
    said: [],
    stamp: document.stamps[0]!.id,
    sizeMm: 18,
    corner: 'bottom right',
    acrossMm: 12,
    downMm: 12,
    pages: 'first',
    ...change,
  };
  await changeJob(
    t.db,
    job.id,
    { version, document: { ...document, piece: { ...document.piece, ground } } },
    'test',
  );
  return { ...job, set, ground };
}
const rowsOf = async (job: number) =>
  (await ledgerRows(t.db, job, { ...viewSchema.parse({}), offset: 0, limit: 10 })).rows.map((r) => [
    r.marks.piece,
    r.notes.filter((n) => n.band === 'piece').map((n) => n.text),
  ]);
async function made(job: number, kind = 'pdfs-each', ending = '.zip') {
  const id = await runs.run(job, { which: 'ready', output: { kind } });
  const run = await viewRun(t.db, id);
  expect(run).toMatchObject({ state: 'done', failed: 0 });
  return { run, bytes: await runs.bytesOf(id, ending) };
}
/** A run that no worker makes yet. */
const started = (job: number, kind: string) =>
  startRun(t.db, job, { name: 'x', which: 'ready', output: { kind } }, 'test');
const filesOf = (zip: Buffer) =>
  Object.entries(unzipSync(zip))
    .filter(([name]) => /\.pdf$/i.test(name))
    .map(([name, bytes]) => [name.replace(/^.*\//, ''), Buffer.from(bytes)] as const);

test('each PDF finds its record by its name; what is missing and what is nobody’s is said', async () => {
  const files = {
    'agreement L-0007.pdf': await letter('one'),
    'loan_l0008_final.PDF': await letter('two', { turn: 90 }),
    'scan-0231.pdf': await letter('three'),
  };
  const { id: job } = await pdfJob(files);
  expect(await rowsOf(job)).toEqual([
    ['ready', []],
    ['ready', []],
    ['look', ['there is no PDF for this record']],
  ]);
  const told = await pdfsInJob(t.db, job);
  expect(told.documents.map((d) => [d.name, d.record?.title ?? null])).toEqual([
    ['agreement L-0007.pdf', 'Odile Fenwick'],
    ['loan_l0008_final.PDF', 'Teo Brandt'],
    ['scan-0231.pdf', null],
  ]);
  expect(told.without).toBe(1);
  const { run, bytes } = await made(job);
  expect(run).toMatchObject({ codes: 2, read: 2 });
  const out = filesOf(bytes);
  expect(out.map(([name]) => name)).toEqual(['agreement L-0007.pdf', 'loan_l0008_final.PDF']);
  for (const [i, [name, pdf]] of out.entries()) {
    const original = files[name as keyof typeof files];
    // everything that was in it stays, byte for byte
    expect(pdf.subarray(0, original.length)).toEqual(original);
    expect(pdfText(pdf)).toBe(pdfText(original));
    expect((await readAll(renderPdf(pdf, 300)[0]!)).map((r) => r.text)).toEqual([loans[i]![0]]);
  }
});

test('who is wanted and has no PDF is left out with the reason, and is not said to read badly', async () => {
  const { id } = await pdfJob({ 'L-0007.pdf': await letter('x') });
  const all = await runs.run(id, { which: 'with-code', output: { kind: 'pdfs-each' } });
  const view = await viewRun(t.db, all);
  expect(view).toMatchObject({ state: 'done', pieces: 1, codes: 1, read: 1, failed: 0 });
  expect(view.leftOut.map((one) => one.reason)).toEqual([
    expect.stringContaining('there is no PDF for this record'),
    expect.stringContaining('there is no PDF for this record'),
  ]);
  expect(filesOf(await runs.bytesOf(all, '.zip'))).toHaveLength(1);
});

test('a document is known by its text or its title too, by the longest key, and as a person says', async () => {
  const files = {
    'a.pdf': await letter('Agreement L-0007 with the library', { title: 'Loan L-0009' }),
    'b.pdf': await letter('This is L 0008.', { title: 'none' }),
  };
  const byText = await pdfJob(files, { knownBy: 'text' });
  const titles = async (job: number) =>
    (await pdfsInJob(t.db, job)).documents.map((d) => d.record?.title ?? null);
  expect(await titles(byText.id)).toEqual(['Odile Fenwick', 'Teo Brandt']);
  const byTitle = await pdfJob(files, { knownBy: 'title' });
  expect(await titles(byTitle.id)).toEqual(['Saltmarsh School', null]);
  const { version, document } = await viewJob(t.db, byTitle.id);
  const { documents } = await pdfsInJob(t.db, byTitle.id);
  const { rows } = await ledgerRows(t.db, byTitle.id, {
    ...viewSchema.parse({}),
    offset: 0,
    limit: 5,
  });
  const said = [
    { document: documents[0]!.id, record: null },
    { document: documents[1]!.id, record: rows[0]!.id },
  ];
  await changeJob(
    t.db,
    byTitle.id,
    {
      version,
      document: { ...document, piece: { ...document.piece, ground: { ...byTitle.ground, said } } },
    },
    'test',
  );
  expect(await titles(byTitle.id)).toEqual([null, 'Odile Fenwick']);
});

test('whose a document is does not depend on who is judged with whom', async () => {
  const { id, list } = await pdfJob({ 'L-1-2.pdf': await letter('x') }, {}, [
    ['L-1', 'Odile Fenwick'],
    ['L-1-2', 'Teo Brandt'],
  ]);
  const expected = [
    ['look', ['there is no PDF for this record']],
    ['ready', []],
  ];
  expect(await rowsOf(id)).toEqual(expected);
  const [first] = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  await judgeRecords(t.db, list, [first!.id]);
  expect(await rowsOf(id)).toEqual(expected);
});

test('two for one record, and signed ones, are worth a look', async () => {
  const signed = Buffer.concat([await letter('x'), Buffer.from('\n% /ByteRange [0 1 2 3]\n')]);
  const { id } = await pdfJob({
    'L-0007.pdf': await letter('x'),
    'L-0007 copy.pdf': await letter('y'),
    'L-0008.pdf': signed,
    'L-0009.pdf': await letter('z'),
  });
  expect(await rowsOf(id)).toEqual([
    ['look', ['there are 2 PDFs for this record']],
    ['look', ['L-0008.pdf is signed; with a code it says that it was changed since']],
    ['ready', []],
  ]);
});

test('a document that carries our code already is known, and its original is used: made again it never doubles', async () => {
  const original = await letter('x');
  const first = await pdfJob({ 'L-0007.pdf': original });
  const [, withCode] = filesOf((await made(first.id)).bytes)[0]!;
  const again = await pdfJob({ 'L-0007.pdf': withCode }, { corner: 'top left' });
  const [, second] = filesOf((await made(again.id)).bytes)[0]!;
  expect(second.subarray(0, original.length)).toEqual(original);
  expect(await readAll(renderPdf(second, 300)[0]!)).toHaveLength(1);
  // whose original is not here is refused
  const other = await testDatabase();
  try {
    const set = await startSet(other.db, 'x', 'test');
    await expect(keepPdf(other.db, set, 'L-0007.pdf', withCode, 'test')).rejects.toThrow(
      /already carries a Hand Stamp code/,
    );
  } finally {
    await other.close();
  }
});

test('another document of the same name takes the place of the one before, which stays for its runs', async () => {
  const { id, set } = await pdfJob({ 'L-0007.pdf': await letter('old') });
  const { run } = await made(id);
  await keepPdf(t.db, set, 'L-0007.pdf', await letter('new'), 'test');
  await documentsCame(t.db, id);
  await rejudgePiece(t.db, id);
  const [, now] = filesOf((await made(id)).bytes)[0]!;
  expect(pdfText(now)).toContain('new');
  const { runAgain } = await import('../../../src/server/runs/runs');
  const same = await runAgain(t.db, run.id, 'test');
  await runs.work();
  const [, before] = filesOf(await runs.bytesOf(same, '.zip'))[0]!;
  expect(pdfText(before)).toContain('old');
  expect((await pdfsInJob(t.db, id)).documents).toHaveLength(1);
});

test('something where the code comes is found before the run, and where there is room is told', async () => {
  const busy = async (x: number, y: number) => {
    const document = await PDFDocument.create();
    const page = document.addPage([420, 595]);
    page.drawRectangle({ x, y, width: 40, height: 40, color: rgb(0.2, 0.2, 0.2) });
    return Buffer.from(await document.save());
  };
  const { id } = await pdfJob({
    'L-0007.pdf': await busy(340, 20),
    'L-0008.pdf': await busy(20, 540),
    'L-0009.pdf': await busy(340, 540),
  });
  expect(await rowsOf(id)).toEqual([
    ['look', ['the code lies over something on page 1 of L-0007.pdf']],
    ['ready', []],
    ['ready', []],
  ]);
  expect((await pdfsInJob(t.db, id)).room).toEqual([
    {
      ...{ corner: 'top left', covers: 1, first: 'L-0008.pdf' },
      free: { corner: 'top left', acrossMm: 6, downMm: 24 },
    },
    {
      ...{ corner: 'top right', covers: 1, first: 'L-0009.pdf' },
      free: { corner: 'top right', acrossMm: 6, downMm: 24 },
    },
    { corner: 'bottom left', covers: 0, first: null, free: null },
    {
      ...{ corner: 'bottom right', covers: 1, first: 'L-0007.pdf' },
      free: { corner: 'bottom right', acrossMm: 6, downMm: 27 },
    },
  ]);
});

test('a name that leads out of the folder does not, and no two are one', async () => {
  const { id } = await pdfJob({
    '../../../etc/L-0007.pdf': await letter('a'),
    'L-0008?.PDF': await letter('b'),
    'L-0009.PDF': await letter('c'),
  });
  const names = filesOf((await made(id)).bytes).map(([name]) => name);
  expect(names).toEqual([
    expect.stringMatching(/^etc-L-0007-\d+\.pdf$/),
    expect.stringMatching(/^L-0008-\d+\.pdf$/),
    'L-0009.PDF',
  ]);
  const whole = Object.keys(unzipSync((await made(id)).bytes));
  expect(whole.filter((name) => name.includes('..'))).toEqual([]);
});

test('pages are chosen, and all of them in one PDF read', async () => {
  const { id } = await pdfJob(
    { 'L-0007.pdf': await letter('a', { pages: 3 }), 'L-0008.pdf': await letter('b') },
    { pages: 'not-first' },
  );
  expect(await rowsOf(id)).toEqual([
    ['ready', []],
    ['look', ['L-0008.pdf has one page only, and none carries the code']],
    ['look', ['there is no PDF for this record']],
  ]);
  const { bytes } = await made(id, 'pdfs-one', '.pdf');
  const pages = await Promise.all(renderPdf(bytes, 200).map((page) => readAll(page)));
  expect(pages.map((p) => p.map((r) => r.text))).toEqual([[], ['L-0007'], ['L-0007']]);
});

test('the same name from two windows at once leaves one document', async () => {
  const set = await startSet(t.db, 'x', 'test');
  const files = await Promise.all(['a', 'b', 'c', 'd'].map((words) => letter(words)));
  await Promise.all(files.map((bytes) => keepPdf(t.db, set, 'same.pdf', bytes, 'test')));
  const rows = await t.db
    .selectFrom('documents')
    .select('hash')
    .where('set_id', '=', set)
    .execute();
  expect(rows).toHaveLength(1);
  expect(files.map((f) => createHash('sha256').update(f).digest('hex'))).toContain(rows[0]!.hash);
});

test('a document is known by a code that stands on it already', async () => {
  const job = await runs.job(['Loan', 'Borrower'], ['key', 'name'], loans);
  const printed = await runs.run(job.id, { output: { kind: 'pdf-each' } });
  const codes = Object.entries(unzipSync(await runs.bytesOf(printed, '.zip'))).filter(([name]) =>
    name.endsWith('.pdf'),
  );
  const files: Record<string, Buffer> = {};
  for (const [i, [, bytes]] of codes.entries()) {
    const scan = await PDFDocument.create();
    const [piece] = await scan.embedPdf(bytes);
    scan.addPage([420, 595]).drawPage(piece!, { x: 40, y: 200 });
    files[`scan-${i}.pdf`] = Buffer.from(await scan.save());
  }
  const { id } = await pdfJob(files, { knownBy: 'code' });
  const { documents, without } = await pdfsInJob(t.db, id);
  expect(documents.map((d) => [d.name, d.record?.title])).toEqual([
    ['scan-0.pdf', 'Odile Fenwick'],
    ['scan-1.pdf', 'Teo Brandt'],
    ['scan-2.pdf', 'Saltmarsh School'],
  ]);
  expect(without).toBe(0);
});

test('on the pages that were named, turned as was said; what has none of them is left out and told', async () => {
  const { id } = await pdfJob(
    {
      'L-0007.pdf': await letter('Odile', { pages: 5 }),
      'L-0008.pdf': await letter('Teo', { pages: 1 }),
      'L-0009.pdf': await letter('School', { pages: 3 }),
    },
    { pages: 'these', range: '2, 4-', turn: 90 },
  );
  const { rows } = await ledgerRows(t.db, id, {
    ...viewSchema.parse({}),
    offset: 0,
    limit: 10,
  });
  expect(rows.map((r) => r.notes.map((n) => n.text))).toEqual([
    [],
    ['L-0008.pdf has none of the pages 2, 4-'],
    [],
  ]);
  const run = await runs.run(id, { which: 'ready', output: { kind: 'pdfs-each' } });
  expect(await viewRun(t.db, run)).toMatchObject({ state: 'done', failed: 0, codes: 2 });
  const files = Object.entries(unzipSync(await runs.bytesOf(run, '.zip')));
  const pagesOf = async (name: string) => {
    const bytes = Buffer.from(files.find(([n]) => n.endsWith(name))![1]);
    const read = [];
    for (const page of renderPdf(bytes, 200)) read.push((await readAll(page)).map((r) => r.text));
    return read;
  };
  expect(await pagesOf('L-0007.pdf')).toEqual([[], ['L-0007'], [], ['L-0007'], ['L-0007']]);
  expect(await pagesOf('L-0009.pdf')).toEqual([[], ['L-0009'], []]);
});

test('where nothing is free at a corner, the nearest place that is free in all is told, and put there all is well', async () => {
  const withMark = async (x: number) => {
    const document = await PDFDocument.create();
    const page = document.addPage([420, 595]);
    page.drawRectangle({ x, y: 30, width: 60, height: 60, color: rgb(0, 0, 0) });
    return Buffer.from(await document.save());
  };
  const files = { 'L-0007.pdf': await withMark(330), 'L-0008.pdf': await withMark(250) };
  const { id, ground } = await pdfJob(files, {}, loans.slice(0, 2));
  const { room } = await pdfsInJob(t.db, id);
  const corner = room.find((r) => r.corner === 'bottom right')!;
  expect(corner).toMatchObject({ covers: 1, free: { corner: 'bottom right' } });
  const others = room.filter((r) => r.corner !== 'bottom right');
  expect(others.map((r) => [r.covers, r.free])).toEqual([
    [0, null],
    [0, null],
    [0, null],
  ]);
  // above both marks, or left of them, whichever is nearer to the corner
  expect(corner.free!.acrossMm + corner.free!.downMm).toBeLessThanOrEqual(6 + 36);
  const { version, document } = await viewJob(t.db, id);
  await changeJob(
    t.db,
    id,
    {
      version,
      document: {
        ...document,
        piece: { ...document.piece, ground: { ...ground, ...corner.free! } },
      },
    },
    'test',
  );
  await rejudgePiece(t.db, id);
  expect(await rowsOf(id)).toEqual([
    ['ready', []],
    ['ready', []],
  ]);
});

test('or each where that one has room: the others stay at their place', async () => {
  const dark = await (async () => {
    const document = await PDFDocument.create();
    document.addPage([420, 595]).drawRectangle({ x: 210, y: 0, width: 210, height: 300 });
    return Buffer.from(await document.save());
  })();
  const files = { 'L-0007.pdf': await letter('light'), 'L-0008.pdf': dark };
  const { id } = await pdfJob(files, { each: true }, loans.slice(0, 2));
  expect((await rowsOf(id)).map(([mark]) => mark)).toEqual(['ready', 'ready']);
  const { documents } = await pdfsInJob(t.db, id);
  expect(documents[0]!.place).toEqual({ corner: 'bottom right', acrossMm: 12, downMm: 12 });
  expect(documents[1]!.place).not.toEqual(documents[0]!.place);
  const { run, bytes } = await made(id);
  expect(run).toMatchObject({ codes: 2, read: 2 });
  const places = await Promise.all(
    filesOf(bytes).map(async ([, pdf]) => (await readPlaces(renderPdf(pdf, 200)[0]!))[0]!.position),
  );
  const mm = (px: number) => (px / 200) * 25.4;
  expect(mm(places[0]!.topLeft.y)).toBeGreaterThan(175);
  // next to the dark area, which is nearer than above it
  expect(mm(places[1]!.topRight.x)).toBeLessThan(210 / 2.8346);
});

test('a caption of words and columns stands below the code on white, as outlines, and its text is in what the code is', async () => {
  const dark = await (async () => {
    const document = await PDFDocument.create();
    document
      .addPage([420, 595])
      .drawRectangle({ x: 0, y: 0, width: 420, height: 595, color: rgb(0.2, 0.2, 0.2) });
    return Buffer.from(await document.save());
  })();
  const { id } = await pdfJob(
    { 'L-0007.pdf': dark },
    {
      ground: 'white',
      caption: [
        { kind: 'text', text: 'Loan ' },
        { kind: 'column', column: 'c1' },
      ],
    },
    loans.slice(0, 1),
  );
  expect((await rowsOf(id))[0]![1]).toEqual([
    'the code lies over something on page 1 of L-0007.pdf',
  ]);
  const all = await runs.run(id, { which: 'with-code', output: { kind: 'pdfs-each' } });
  expect(await viewRun(t.db, all)).toMatchObject({ codes: 1, read: 1 });
  const [, pdf] = filesOf(await runs.bytesOf(all, '.zip'))[0]!;
  expect(pdfText(pdf)).toBe(pdfText(dark));
  const [sheet] = renderPdf(pdf, 200);
  const [, width, height] = /^P5\s+(\d+)\s+(\d+)\s+255\s/
    .exec(Buffer.from(sheet!.subarray(0, 40)).toString('latin1'))!
    .map(Number);
  const pixels = sheet!.subarray(sheet!.length - width! * height!);
  // the strip below the code: white, with letters in it
  const px = (mm: number) => Math.round((mm / 25.4) * 200);
  const greys: number[] = [];
  for (let y = height! - px(12 + 7.5) + 2; y < height! - px(12) - 2; y++)
    for (let x = width! - px(12 + 18) + 2; x < width! - px(12) - 2; x++)
      greys.push(pixels[y * width! + x]!);
  const ink = greys.filter((grey) => grey < 128).length / greys.length;
  expect(greys.filter((grey) => grey > 250).length / greys.length).toBeGreaterThan(0.6);
  expect(ink).toBeGreaterThan(0.03);
  expect(ink).toBeLessThan(0.35);
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-pdf-'));
  writeFileSync(join(folder, 'a.pdf'), pdf);
  const text = execFileSync('qpdf', ['--qdf', join(folder, 'a.pdf'), '-']).toString('latin1');
  rmSync(folder, { recursive: true });
  const about = [...text.matchAll(/\/Alt <([0-9a-f]+)>/gi)].map(([, hex]) =>
    Buffer.from(hex!, 'hex').swap16().toString('utf16le'),
  );
  expect(about.join()).toMatch(/Code to scan.*, Loan L-0007/);
});

describe('a PDF that is locked', () => {
  const lock = (pdf: Buffer, user: string, owner: string): Buffer => {
    const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-lock-'));
    writeFileSync(join(folder, 'a.pdf'), pdf);
    execFileSync('qpdf', [
      ...['--encrypt', user, owner, '256', '--print=low', '--'],
      ...[join(folder, 'a.pdf'), join(folder, 'b.pdf')],
    ]);
    const bytes = readFileSync(join(folder, 'b.pdf'));
    rmSync(folder, { recursive: true });
    return bytes;
  };
  const unlocked = (pdf: Buffer, password: string): Buffer => {
    const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-lock-'));
    writeFileSync(join(folder, 'a.pdf'), pdf);
    try {
      return execFileSync('qpdf', [
        ...[`--password=${password}`, '--decrypt'],
        ...[join(folder, 'a.pdf'), '-'],
      ]);
    } finally {
      rmSync(folder, { recursive: true });
    }
  };

  test.each([
    ['for everything', 'open sesame', 'of the owner', 'open sesame'],
    ['for changes only', '', 'of the owner', 'of the owner'],
  ])(
    '%s wants its password, and what is made opens with the same',
    async (_, user, owner, given) => {
      const plain = await letter('Agreement L-0007 with the library');
      const locked = lock(plain, user, owner);
      const { id, set } = await pdfJob({}, {}, loans.slice(0, 1));
      expect(await keepPdf(t.db, set, 'L-0007.pdf', locked, 'test')).toEqual({
        name: 'L-0007.pdf',
        locked: 'L-0007.pdf: This PDF is locked. Enter its password to change it.',
      });
      expect(await keepPdf(t.db, set, 'L-0007.pdf', locked, 'test', 'guess')).toMatchObject({
        locked: expect.stringMatching(/password is wrong/),
      });
      expect((await pdfsInJob(t.db, id)).documents).toEqual([]);
      expect(await keepPdf(t.db, set, 'L-0007.pdf', locked, 'test', given)).toMatchObject({
        name: 'L-0007.pdf',
      });
      const told = await pdfsInJob(t.db, id);
      expect(told.documents).toMatchObject([{ locked: true, record: { title: 'Odile Fenwick' } }]);
      expect(JSON.stringify(told)).not.toContain(given);
      const kept = await t.db
        .selectFrom('documents')
        .select('password')
        .where('set_id', '=', set)
        .executeTakeFirstOrThrow();
      expect(kept.password).not.toContain(given);
      expect((await pageOfDocument(t.db, told.documents[0]!.id, 0)).length).toBeGreaterThan(500);

      await documentsCame(t.db, id);
      await rejudgePiece(t.db, id);
      const { bytes } = await made(id);
      const [, pdf] = filesOf(bytes)[0]!;
      expect(() => unlocked(pdf, 'guess')).toThrow();
      const opened = unlocked(pdf, given);
      expect(pdfText(opened)).toBe(pdfText(plain));
      expect((await readAll(renderPdf(opened, 300)[0]!)).map((r) => r.text)).toEqual(['L-0007']);
      if (user === '') expect(pdfText(pdf)).toBe(pdfText(plain));
      else expect(() => pdfText(pdf)).toThrow();
      // the permissions without the owner's password are unchanged
      const pages = execFileSync('pdfinfo', ['-upw', user, '-'], { input: pdf, encoding: 'utf8' });
      expect(pages).toMatch(/Encrypted:\s+yes \(print:yes copy:yes change:yes addNotes:yes/);

      const all = await started(id, 'pdfs-one');
      await expect(runChunk(t.db, all, 0)).rejects.toThrow(
        /locked, and one PDF of all would be open/,
      );
    },
  );
});

test('into the Out-tray beside the originals: whole, again the same, and nothing is read from it', async () => {
  const tray = mkdtempSync(join(tmpdir(), 'hand-stamp-tray-'));
  process.env.HAND_STAMP_TRAY = tray;
  try {
    const { id } = await pdfJob({ 'L-0007.pdf': await letter('x') }, {}, loans.slice(0, 1));
    const run = await runs.run(id, { which: 'ready', output: { kind: 'pdfs-tray' } });
    expect(await viewRun(t.db, run)).toMatchObject({ state: 'done', codes: 1, read: 1 });
    const out = join(tray, 'Out-tray');
    expect(readdirSync(out)).toEqual([`Weekend-${run}`]);
    const file = join(out, `Weekend-${run}`, 'L-0007.pdf');
    expect(readFileSync(file)).toEqual(filesOf(await runs.bytesOf(run, '.zip'))[0]![1]);
    expect(await trayPdfs()).toEqual([]);
    expect(await trayEntries()).toEqual([]);

    // if it leads elsewhere, nothing is written, and the run says so
    rmSync(out, { recursive: true });
    const elsewhere = mkdtempSync(join(tmpdir(), 'hand-stamp-elsewhere-'));
    symlinkSync(elsewhere, out);
    const again = await started(id, 'pdfs-tray');
    await runChunk(t.db, again, 0);
    await expect(assembleRun(t.db, again)).rejects.toThrow(/not a folder but a link/);
    expect(readdirSync(elsewhere)).toEqual([]);
    rmSync(elsewhere, { recursive: true });
    delete process.env.HAND_STAMP_TRAY;
    const none = await started(id, 'pdfs-tray');
    await expect(runChunk(t.db, none, 0)).rejects.toThrow(/no In-tray/);
  } finally {
    delete process.env.HAND_STAMP_TRAY;
    rmSync(tray, { recursive: true });
  }
});
