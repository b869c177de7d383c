import { PDFDocument } from '@cantoo/pdf-lib';
import { parse } from 'csv-parse/sync';
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { defaultRunOptions } from '../../../src/core/run/plan';
import { editCells } from '../../../src/server/lists/edits';
import { stepBack } from '../../../src/server/lists/revisions';
import { changeJob, jump, ledgerRows, listJobs, viewJob } from '../../../src/server/jobs/jobs';
import { cancelRun, runAgain, startRun } from '../../../src/server/runs/runs';
import { finishStopped } from '../../../src/server/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { runChunk } from '../../../src/server/runs/making';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';
import { renderPdf } from '../../helpers/poppler';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const runs = runsIn(() => t);
const { work, bytesOf: fileBytes } = runs;
const job = (rows: string[][]) => runs.job(['Badge no', 'Name'], ['key', 'name'], rows);
const people = (count: number): string[][] =>
  Array.from({ length: count }, (_, i) => [
    `DH-${String(i + 1).padStart(4, '0')}`,
    `Person ${i + 1}`,
  ]);
const rowsOf = (id: number, filter: 'all' | 'ready' | 'look' | 'out' = 'all', q = '') =>
  ledgerRows(t.db, id, { filter, q, where: [], offset: 0, limit: 500 });

describe('a stored document', () => {
  const stored = (id: number) =>
    t.db.selectFrom('jobs').select('document').where('id', '=', id).executeTakeFirstOrThrow();
  const store = async (id: number, how: (document: Record<string, unknown>) => object) => {
    const { document } = await stored(id);
    const changed = how(document as unknown as Record<string, unknown>);
    await t.db
      .updateTable('jobs')
      .set({ document: JSON.stringify(changed) })
      .where('id', '=', id)
      .execute();
  };

  test('of the first version is brought forward when it is read, and kept so when it is changed', async () => {
    const { id } = await job(people(3));
    await store(id, ({ piece }) => ({ piece }));
    const before = await viewJob(t.db, id);
    expect(before.document.options).toEqual(defaultRunOptions);
    const runId = await startRun(t.db, id, { name: 'Old', which: 'ready', ticked: [] }, 'test');
    await work();
    expect(await viewRun(t.db, runId)).toMatchObject({ state: 'done', read: 3 });
    await changeJob(t.db, id, { version: before.version, document: before.document }, 'test');
    expect((await stored(id)).document).toMatchObject({ shape: 1, options: defaultRunOptions });
  });

  test('of a later version is not guessed at: the job says so, and the others are shown', async () => {
    const { id } = await job(people(2));
    const other = await job(people(2));
    await store(id, (document) => ({ ...document, shape: 99 }));
    await expect(viewJob(t.db, id)).rejects.toThrow('A later version of Hand Stamp wrote the job');
    const all = await listJobs(t.db);
    expect(all.find((one) => one.id === id)!.on).toContain('A later version');
    expect(all.find((one) => one.id === other.id)!.on).not.toContain('version');
    await expect(
      startRun(t.db, id, { name: 'No', which: 'ready', ticked: [] }, 'test'),
    ).rejects.toThrow('A later version');
    expect(await t.db.selectFrom('runs').select('id').where('job_id', '=', id).execute()).toEqual(
      [],
    );
  });
});

describe('the ledger', () => {
  let j: { id: number; list: number };
  beforeEach(async () => {
    j = await job([
      ['DH-1', 'Ines'],
      ['', 'Odalys'],
      ['DH-3', 'Bartholomew Featherstonehaugh-Winterbourne the Elder of Long Strand'],
      ['DH-4', 'Keiko 100%'],
      ['DH-4', 'Joss'],
    ]);
  });

  test('judges every record and counts by state', async () => {
    expect((await viewJob(t.db, j.id)).counts).toEqual({
      all: 5,
      ready: 1,
      look: 3,
      out: 1,
      new: 1,
      changed: 0,
    });
    const { rows } = await rowsOf(j.id);
    expect(rows.map((r) => r.marks.overall)).toEqual(['ready', 'out', 'look', 'look', 'look']);
    expect(rows[1]!.notes.map((n) => n.text)).toEqual([
      'Badge no is blank',
      'no code: Badge no is blank',
    ]);
    expect(rows[2]!.notes[0]!.text).toMatch(/runs over by \d+ letters/);
    expect(rows[4]!.notes[0]!.text).toBe('Badge no comes more than once');
    expect((await listJobs(t.db)).find((x) => x.id === j.id)).toMatchObject({
      records: 5,
      ready: 1,
    });
  });

  test('filters and searches, taking the search for plain text', async () => {
    expect((await rowsOf(j.id, 'look')).total).toBe(3);
    expect((await rowsOf(j.id, 'all', '100%')).rows.map((r) => r.values.c2)).toEqual([
      'Keiko 100%',
    ]);
    expect((await rowsOf(j.id, 'all', '_')).total).toBe(0);
    expect((await rowsOf(j.id, 'all', 'badge')).total).toBe(0);
  });

  test('jumps to the odd ones within the filter', async () => {
    expect(await jump(t.db, j.id, { to: 'longest', filter: 'all', q: '', where: [] })).toBe(2);
    expect(await jump(t.db, j.id, { to: 'shortest', filter: 'all', q: '', where: [] })).toBe(0);
    expect(await jump(t.db, j.id, { to: 'over', filter: 'look', q: '', where: [] })).toBe(0);
    const wide = await jump(t.db, j.id, { to: 'over', filter: 'all', q: '', where: [] });
    // the only one that is, so it is the next after itself too
    expect(
      await jump(t.db, j.id, { to: 'over', filter: 'all', q: '', where: [], after: wide! }),
    ).toBe(wide);
    expect(await jump(t.db, j.id, { to: 'scripts', filter: 'all', q: '', where: [] })).toBeNull();
  });

  test('an edit changes the marks of its own row and of those it shared a key with; undo and redo too', async () => {
    const { rows } = await rowsOf(j.id);
    await editCells(t.db, j.list, [{ record: rows[4]!.id, column: 'c1', value: ' 005 ' }], 'test');
    const marks = async () => (await rowsOf(j.id)).rows.map((r) => r.marks.overall);
    // spaces round a value are told, and do not reach the code
    expect(await marks()).toEqual(['ready', 'out', 'look', 'ready', 'look']);
    expect((await rowsOf(j.id)).rows[4]!.values.c1).toBe(' 005 ');
    expect(await stepBack(t.db, j.list, 'undo', 'test')).toBe('1 cell changed');
    expect(await marks()).toEqual(['ready', 'out', 'look', 'look', 'look']);
    expect(await stepBack(t.db, j.list, 'redo', 'test')).toBe('1 cell changed');
    expect((await rowsOf(j.id)).rows[4]!.values.c1).toBe(' 005 ');
    expect(await stepBack(t.db, j.list, 'redo', 'test')).toBeUndefined();
    expect((await viewJob(t.db, j.id)).list.revision).toBe(4);
  });

  test('a change made on an old version is refused and loses nothing', async () => {
    const before = await viewJob(t.db, j.id);
    await changeJob(t.db, j.id, { version: before.version, name: 'Badges, new' }, 'a');
    await expect(
      changeJob(t.db, j.id, { version: before.version, name: 'Badges, other' }, 'b'),
    ).rejects.toThrow(/in another window/);
    expect((await viewJob(t.db, j.id)).name).toBe('Badges, new');
  });
});

describe('a run', () => {
  test('makes a PDF whose every code reads, and a receipt that says so', async () => {
    const { id } = await job([...people(30), ['', 'Nobody']]);
    await changeJob(
      t.db,
      id,
      {
        version: 1,
        document: {
          ...(await viewJob(t.db, id)).document,
          options: { start: 5, order: 'across', copies: 1 },
        },
      },
      'test',
    );
    const runId = await startRun(t.db, id, { name: 'First', which: 'ready', ticked: [] }, 'test');
    await work();
    const run = await viewRun(t.db, runId);
    expect(run).toMatchObject({
      state: 'done',
      pieces: 30,
      sheets: 2,
      codes: 30,
      read: 30,
      failed: 0,
    });
    expect(run.leftOut).toMatchObject([
      { title: 'Nobody', reason: 'Badge no is blank; no code: Badge no is blank' },
    ]);
    const receipt = parse(await fileBytes(runId, 'receipt.csv'), {
      columns: true,
      bom: true,
    }) as Record<string, string>[];
    expect(receipt).toHaveLength(30);
    expect(receipt[17]).toMatchObject({
      Key: 'DH-0018',
      Payload: 'DH-0018',
      Page: '2',
      Position: '1',
      'Read-back': 'correct',
      'Reads as': 'DH-0018',
    });
    const pages = renderPdf(await fileBytes(runId, '.pdf'), 200);
    const found = (
      await Promise.all(pages.map((page) => readAll(page, { formats: ['QRCode'] })))
    ).map((reads) => reads.map((r) => r.text).sort());
    expect(found).toEqual([
      people(17).map((p) => p[0]),
      people(30)
        .slice(17)
        .map((p) => p[0]),
    ]);
    const { rows } = await rowsOf(id);
    expect(rows[20]!.marks.run).toBe('ready');
    expect([rows[20]!.page, rows[20]!.place]).toEqual([2, 4]);
  });

  test('ticked records only, several copies each', async () => {
    const { id } = await job(people(5));
    const document = (await viewJob(t.db, id)).document;
    await changeJob(
      t.db,
      id,
      { version: 1, document: { ...document, options: { ...document.options, copies: 3 } } },
      'test',
    );
    const { rows } = await rowsOf(id);
    const runId = await startRun(
      t.db,
      id,
      { name: 'Two', which: 'ticked', ticked: [rows[1]!.id, rows[3]!.id] },
      'test',
    );
    await work();
    const receipt = parse(await fileBytes(runId, 'receipt.csv'), {
      columns: true,
      bom: true,
    }) as Record<string, string>[];
    expect(receipt.map((r) => r.Key)).toEqual([
      'DH-0002',
      'DH-0002',
      'DH-0002',
      'DH-0004',
      'DH-0004',
      'DH-0004',
    ]);
  });

  test('a code that does not read makes the run fail visibly', async () => {
    const { id } = await job(people(3));
    const { document } = await viewJob(t.db, id);
    const code = document.piece.elements.find((e) => e.kind === 'stamp')!;
    const words = document.piece.elements.find((e) => e.kind === 'text')!;
    // words printed large across the code
    const over = Array.from({ length: 5 }, (_, k) => ({
      ...words,
      id: `over-${k}`,
      kind: 'text' as const,
      parts: [{ kind: 'text' as const, text: 'MMMMMMMM' }],
      font: 'bricolage-bold',
      x: code.x - 3,
      y: code.y + k * 4,
      sizePt: 16,
      minPt: 16,
      lines: 1,
      width: 20,
      align: 'left' as const,
      colour: '#000000',
    }));
    await changeJob(
      t.db,
      id,
      {
        version: 1,
        document: {
          ...document,
          piece: { ...document.piece, elements: [...document.piece.elements, ...over] },
        },
      },
      'test',
    );
    const runId = await startRun(
      t.db,
      id,
      { name: 'Covered', which: 'with-code', ticked: [] },
      'test',
    );
    await work();
    const run = await viewRun(t.db, runId);
    expect(run).toMatchObject({ state: 'done', codes: 3, read: 0, failed: 3 });
    expect(run.failures[0]).toMatchObject({
      title: 'Person 1',
      page: 1,
      place: 1,
      result: 'unread',
    });
    expect((await rowsOf(id)).rows[0]!.marks.run).toBe('failed');
  });

  test('is refused when there is nothing to make, and leaves nothing behind', async () => {
    const { id } = await job([['', 'Nobody']]);
    await expect(
      startRun(t.db, id, { name: 'None', which: 'ready', ticked: [] }, 'test'),
    ).rejects.toThrow(/nothing to make/);
    expect(await t.db.selectFrom('runs').selectAll().where('job_id', '=', id).execute()).toEqual(
      [],
    );
  });

  test('a chunk done twice doubles nothing; the same run gives the same bytes', async () => {
    const { id } = await job(people(40));
    const runId = await startRun(t.db, id, { name: 'Twice', which: 'ready', ticked: [] }, 'test');
    await runChunk(t.db, runId, 0);
    await runChunk(t.db, runId, 0);
    await work();
    expect(await viewRun(t.db, runId)).toMatchObject({ state: 'done', made: 40, read: 40 });
    const first = await fileBytes(runId, '.pdf');
    const again = await startRun(t.db, id, { name: 'Twice', which: 'ready', ticked: [] }, 'test');
    await t.db
      .updateTable('runs')
      .set({
        frozen: JSON.stringify(
          (
            await t.db
              .selectFrom('runs')
              .select('frozen')
              .where('id', '=', runId)
              .executeTakeFirstOrThrow()
          ).frozen,
        ),
      })
      .where('id', '=', again)
      .execute();
    await work();
    expect((await fileBytes(again, '.pdf')).equals(first)).toBe(true);
  });

  test('stopped in the middle, what was made can be kept, and the rest is counted as left out', async () => {
    const { id } = await job(people(450));
    const runId = await startRun(t.db, id, { name: 'Half', which: 'ready', ticked: [] }, 'test');
    const whole = await viewRun(t.db, runId);
    await runChunk(t.db, runId, 0);
    await runChunk(t.db, runId, 2);
    await expect(finishStopped(t.db, runId)).rejects.toThrow(/stopped run/);
    await cancelRun(t.db, runId);
    await finishStopped(t.db, runId);
    // a part that a worker takes only now is no part of it any more
    await runChunk(t.db, runId, 1);
    await runChunk(t.db, runId, 2);
    await work();
    const kept = await viewRun(t.db, runId);
    expect(kept).toMatchObject({ state: 'done', pieces: 210, made: 210, read: 210, failed: 0 });
    expect(kept.sheets).toBeLessThan(whole.sheets);
    expect(kept.pieces + kept.leftOut.length).toBe(450);
    expect(kept.leftOut[0]).toMatchObject({ reason: 'the run was stopped before it' });
    const pages = await PDFDocument.load(await fileBytes(runId, '.pdf'));
    expect(pages.getPageCount()).toBe(kept.sheets);
    const printed = await t.db
      .selectFrom('job_rows')
      .select('record_id')
      .where('run_id', '=', runId)
      .execute();
    expect(printed).toHaveLength(210);
    // the same again is what was kept
    const again = await runAgain(t.db, runId, 'test');
    await work();
    expect(await viewRun(t.db, again)).toMatchObject({ state: 'done', pieces: 210, read: 210 });
  }, 120_000);

  test('short ones come between the parts of long ones, and say what they wait for', async () => {
    const { id } = await job(people(450));
    const long = await startRun(t.db, id, { name: 'Long', which: 'ready', ticked: [] }, 'test');
    const other = await job(people(5));
    const short = await startRun(
      t.db,
      other.id,
      { name: 'Short', which: 'ready', ticked: [] },
      'test',
    );
    expect((await viewRun(t.db, short)).ahead).toBeGreaterThanOrEqual(450);
    const { rows } = await sql<{ run: number; chunk: number }>`
      select (payload->>'run')::int as run, (payload->>'chunk')::int as chunk
        from graphile_worker._private_jobs j
          join graphile_worker._private_tasks k on k.id = j.task_id
        where k.identifier = 'run.chunk' and (payload->>'run')::int in (${long}, ${short})
        order by priority, run_at, j.id`.execute(t.db);
    expect(rows.map((r) => [r.run === short ? 'short' : 'long', r.chunk])).toEqual([
      ['long', 0],
      ['short', 0],
      ['long', 1],
      ['long', 2],
    ]);
    await cancelRun(t.db, long);
    await work();
    expect(await viewRun(t.db, short)).toMatchObject({ state: 'done' });
  }, 120_000);

  test('stopped, it makes no files', async () => {
    const { id } = await job(people(10));
    const runId = await startRun(t.db, id, { name: 'Stopped', which: 'ready', ticked: [] }, 'test');
    await cancelRun(t.db, runId);
    await work();
    expect(await viewRun(t.db, runId)).toMatchObject({ state: 'cancelled', made: 0, files: [] });
  });
});
