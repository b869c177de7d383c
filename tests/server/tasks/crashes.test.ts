import { spawn, type ChildProcess } from 'node:child_process';
import { PDFDocument } from '@cantoo/pdf-lib';
import { parse } from 'csv-parse/sync';
import { unzipSync } from 'fflate';
import { makeWorkerUtils, runOnce } from 'graphile-worker';
import { sql } from 'kysely';
import { expect, onTestFinished, test } from 'vitest';
import { migrate, openDatabase } from '../../../src/server/platform/db';
import { changeJob, viewJob } from '../../../src/server/jobs/jobs';
import { keepDocument, keepPdf, startSet } from '../../../src/server/documents';
import { rejudgePiece } from '../../../src/server/judging';
import { keyOf } from '../../../src/core/documents/keys';
import type { Ground } from '../../../src/core/piece/ground';
import { startRun } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { performTask } from '../../../src/server/tasks/registry';
import { docx, paragraph, run as words } from '../../../demo/docx';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { readAll } from '../../helpers/barcode';
import { renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';
import { argumentsOf } from '../../helpers/programs';

const people = (count: number): string[][] =>
  Array.from({ length: count }, (_, i) => [
    `DH-${String(i + 1).padStart(4, '0')}`,
    `Person ${i + 1}`,
  ]);

const spawnWorker = (url: string): ChildProcess =>
  spawn(process.execPath, argumentsOf('src/server/tasks/worker'), {
    env: { ...process.env, DATABASE_URL: url, LOG_LEVEL: 'silent' },
    stdio: 'ignore',
  });

/** A real worker process, ended with the test. */
function worker(url: string): ChildProcess {
  const child = spawnWorker(url);
  onTestFinished(() => void child.kill('SIGKILL'));
  return child;
}

/**
 * A worker that loses its database ends; as the start command does, another is started until the
 * test is over.
 */
function supervised(url: string): { stop: () => void; fell: Promise<void> } {
  let child: ChildProcess | undefined;
  let over = false;
  const fell = new Promise<void>((resolve) => {
    const start = () => {
      if (over) return;
      child = spawnWorker(url);
      child.on('exit', () => {
        resolve();
        setTimeout(start, 500);
      });
    };
    start();
  });
  return {
    fell,
    stop: () => {
      over = true;
      child?.kill('SIGKILL');
    },
  };
}

type Run = Awaited<ReturnType<typeof viewRun>>;

/** Looks at a run until it is as wished; a database that is away for the moment is asked again. */
async function until(
  { db }: TestDatabase,
  id: number,
  wished: (run: Run) => boolean,
): Promise<Run> {
  for (let i = 0; i < 3600; i++) {
    const run = await viewRun(db, id).catch(() => undefined);
    if (run && wished(run)) return run;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  throw new Error('the run did not get there in time');
}

/**
 * Nothing lost, nothing doubled: every record once in the receipt and every code once in the PDF.
 */
async function expectWhole(t: TestDatabase, id: number, run: Run, count: number): Promise<void> {
  expect(run).toMatchObject({ made: count, codes: count, read: count, failed: 0 });
  const { bytesOf } = runsIn(() => t);
  const receipt = parse(await bytesOf(id, 'receipt.csv'), { columns: true, bom: true }) as Record<
    string,
    string
  >[];
  expect(receipt).toHaveLength(count);
  expect(new Set(receipt.map((r) => r.Key)).size).toBe(count);
  // a page in the middle, as it would be printed
  const pdf = await bytesOf(id, '.pdf');
  const pages = (await PDFDocument.load(pdf)).getPageCount();
  expect(pages).toBe(Math.ceil(count / 21));
  const middle = Math.floor(pages / 2);
  const [page] = renderPdf(pdf, 150, 'pgm', middle + 1);
  const codes = (await readAll(page!)).map((c) => c.text).sort();
  expect(codes).toEqual(
    people(count)
      .slice(middle * 21, middle * 21 + 21)
      .map(([key]) => key),
  );
}

test('a worker killed in the middle loses nothing and doubles nothing', async () => {
  const t = await testDatabase();
  onTestFinished(() => t.close());
  const { id } = await runsIn(() => t).job(['Badge no', 'Name'], ['key', 'name'], people(900));
  const run = await startRun(t.db, id, { name: 'Killed', which: 'ready' }, 'test');
  const first = worker(t.url);
  await until(t, run, (r) => r.made > 0);
  first.kill('SIGKILL');
  expect((await viewRun(t.db, run)).made).toBeLessThan(900);
  const second = worker(t.url);
  const done = await until(t, run, (r) => r.state === 'done');
  second.kill('SIGTERM');
  await expectWhole(t, run, done, 900);
}, 240_000);

test('a worker killed in the middle of documents, and of codes on PDFs, loses none and makes none twice', async () => {
  const t = await testDatabase();
  onTestFinished(() => t.close());
  const { job, bytesOf } = runsIn(() => t);
  const count = 200;
  const keys = people(count).map(([key]) => key);
  const ground = async (kind: 'document' | 'pdfs', stamp: string): Promise<Ground> => {
    if (kind === 'document') {
      const bytes = docx({ body: paragraph(words('DH-0001')) + paragraph() });
      const { id: document, name } = await keepDocument(t.db, 'a.docx', Buffer.from(bytes), 'test');
      const spot = { part: 'word/document.xml', from: 0 };
      return {
        ...{ kind, document, name, blocks: [] },
        places: [
          {
            ...{ id: 'p', ...spot, paragraph: 0, to: 7, example: 'DH-0001', blank: 'words' },
            parts: [{ kind: 'column', column: 'c1' }],
          },
        ],
        codes: [
          {
            ...{ id: 'c', stamp, widthMm: 20, heightMm: 20 },
            at: { kind: 'words', ...spot, paragraph: 1, to: 0 },
          },
        ],
      };
    }
    const set = await startSet(t.db, 'a', 'test');
    const page = await PDFDocument.create();
    page.addPage([200, 200]);
    const bytes = Buffer.from(await page.save());
    await keepPdf(t.db, set, `${keys[0]}.pdf`, bytes, 'test');
    // the others as if they had come in, too
    const kept = await t.db
      .selectFrom('documents')
      .select(['kind', 'size', 'hash', 'facts', 'created_by'])
      .where('set_id', '=', set)
      .executeTakeFirstOrThrow();
    for (const key of keys.slice(1)) {
      const { id: document_id } = await t.db
        .insertInto('documents')
        .values({
          ...{ ...kept, set_id: set },
          facts: JSON.stringify(kept.facts),
          name: `${key}.pdf`,
          name_keys: [keyOf(key!)],
        })
        .returning('id')
        .executeTakeFirstOrThrow();
      await t.db.insertInto('document_pieces').values({ document_id, number: 0, bytes }).execute();
    }
    return {
      ...{ kind, set, name: 'a', knownBy: 'name', column: 'c1', said: [], stamp, sizeMm: 20 },
      ...{ corner: 'top left', acrossMm: 10, downMm: 10, pages: 'first' },
    };
  };
  const started: number[] = [];
  for (const [kind, output] of [
    ['document', 'docx-each'],
    ['pdfs', 'pdfs-each'],
  ] as const) {
    const { id } = await job(['Badge no', 'Name'], ['key', 'name'], people(count), kind);
    const { version, document } = await viewJob(t.db, id);
    const piece = { ...document.piece, ground: await ground(kind, document.stamps[0]!.id) };
    await changeJob(t.db, id, { version, document: { ...document, piece } }, 'test');
    await rejudgePiece(t.db, id);
    const wanted = { name: 'Killed', which: 'ready' as const, output: { kind: output } };
    started.push(await startRun(t.db, id, wanted, 'test'));
  }
  const [documents, pdfs] = started;
  const first = worker(t.url);
  await Promise.race(started.map((run) => until(t, run, (r) => r.made > 0)));
  first.kill('SIGKILL');
  const made = await Promise.all(started.map(async (run) => (await viewRun(t.db, run)).made));
  expect(made[0]! + made[1]!).toBeLessThan(2 * count);
  const second = worker(t.url);
  for (const run of [documents, pdfs]) {
    const done = await until(t, run!, (r) => r.state === 'done');
    expect(done).toMatchObject({ made: count, codes: count, read: count, failed: 0 });
    const names = Object.keys(unzipSync(await bytesOf(run!, '.zip')))
      .map((name) => name.replace(/^.*\//, ''))
      .filter((name) => /\.(docx|pdf)$/.test(name));
    expect(names.map((name) => name.replace(/\.\w+$/, '')).sort()).toEqual(keys);
  }
  second.kill('SIGTERM');
}, 240_000);

interface Postgres {
  startPostgres(
    purpose: string,
    options?: { fresh?: boolean },
  ): Promise<{ url: string; stop(): void; crash(): boolean; comeBack(): boolean }>;
}

test('a database that falls over in the middle of a run by two workers and comes back loses nothing and doubles nothing', async () => {
  const { startPostgres } = (await import(
    '../../../scripts/lib-postgres.mjs' as string
  )) as Postgres;
  // a server of its own, so that no other test falls with it; with the durability that the product
  // runs with
  const server = await startPostgres('crash', { fresh: true });
  onTestFinished(() => server.stop());
  const { db, pool } = openDatabase(server.url, 4);
  const t: TestDatabase = { db, pool, url: server.url, close: () => db.destroy() };
  onTestFinished(() => t.close());
  await migrate(db);
  const utils = await makeWorkerUtils({ pgPool: pool });
  await utils.migrate();
  await utils.release();
  const { id } = await runsIn(() => t).job(['Badge no', 'Name'], ['key', 'name'], people(1500));
  const run = await startRun(db, id, { name: 'Fallen', which: 'ready' }, 'test');
  const workers = [supervised(server.url), supervised(server.url)];
  onTestFinished(() => workers.forEach((one) => one.stop()));
  await until(t, run, (r) => r.made > 0);
  expect(server.crash()).toBe(true);
  await Promise.all(workers.map((one) => one.fell));
  expect(server.comeBack()).toBe(true);
  expect((await until(t, run, () => true)).made).toBeLessThan(1500);
  const done = await until(t, run, (r) => r.state === 'done' || r.state === 'failed');
  await expectWhole(t, run, done, 1500);
}, 240_000);

test('a list whose worker ended between taking it and judging it, its task lost, is found by the janitor', async () => {
  const t = await testDatabase();
  onTestFinished(() => t.close());
  const { id, list } = await runsIn(() => t).job(['Badge no', 'Name'], ['key', 'name'], people(5));
  await t.db.deleteFrom('job_rows').where('job_id', '=', id).execute();
  await t.db.updateTable('lists').set({ judged: 0 }).where('id', '=', list).execute();
  await sql`delete from graphile_worker._private_jobs`.execute(t.db);
  expect(await viewJob(t.db, id)).toMatchObject({ judging: 5, counts: { all: 0 } });
  await performTask(t.db, 'janitor', {});
  await runOnce({
    pgPool: t.pool,
    taskList: { 'list.renew': (payload) => performTask(t.db, 'list.renew', payload) },
  });
  expect(await viewJob(t.db, id)).toMatchObject({ judging: 0, counts: { all: 5, ready: 5 } });
});
