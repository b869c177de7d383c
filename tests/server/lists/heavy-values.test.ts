/**
 * What one person types must not keep the web server from answering others: a change with more
 * letters than are judged at once goes to a worker, and its records are judged there.
 */
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { editCells } from '../../../src/server/lists/edits';
import { changeJob, viewJob } from '../../../src/server/jobs/jobs';
import { proofOf } from '../../../src/server/runs/proof';
import { finalWords, IntakeError, Refusal, RunError } from '../../../src/server/platform';
import { endRun } from '../../../src/server/runs/making';
import { startRun } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn, workOff } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const rows = Array.from({ length: 30 }, (_, i) => [`DH-${i}`, `Name ${i}`]);
let made: Awaited<ReturnType<typeof job>>;
let ids: number[];
beforeEach(async () => {
  made = await job(['No', 'Name'], ['key', 'name'], rows);
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', made.list)
    .orderBy('position')
    .execute();
  ids = records.map((r) => r.id);
});

const waiting = async (): Promise<string[]> => {
  const { rows: found } = await sql<{ name: string }>`
    select t.identifier as name from graphile_worker._private_jobs j
    join graphile_worker._private_tasks t on t.id = j.task_id
    where (j.payload->>'list')::int = ${made.list}`.execute(t.db);
  return found.map((r) => r.name);
};
const look = async () =>
  (await proofOf(t.db, made.id, { name: 'x', which: 'ready' }, 0)).leftOut.map((l) => l.reason);

test('a change of 19,000 letters is judged by a worker, and comes out right', async () => {
  const value = 'Wilhelmina'.repeat(1900);
  const edits = ids.slice(0, 6).map((record) => ({ record, column: 'c2', value }));
  await editCells(t.db, made.list, edits, 'test');
  expect(await waiting()).toContain('list.judge');
  await workOff(t);
  expect(await waiting()).not.toContain('list.judge');
  const reasons = await look();
  expect(reasons).toHaveLength(6);
  for (const reason of reasons) expect(reason).toMatch(/runs over by [\d,]+ letters/);
});

test('a small change is judged at once', async () => {
  await workOff(t);
  await editCells(t.db, made.list, [{ record: ids[0]!, column: 'c1', value: '' }], 'test');
  expect(await waiting()).not.toContain('list.judge');
  expect(await look()).toHaveLength(1);
});

test('another piece for records with long values is judged by a worker, too', async () => {
  const value = 'Wilhelmina '.repeat(1700);
  const edits = ids.slice(0, 6).map((record) => ({ record, column: 'c2', value }));
  await editCells(t.db, made.list, edits, 'test');
  await workOff(t);
  const { document, version } = await viewJob(t.db, made.id);
  const piece = { ...document.piece, elements: document.piece.elements.slice(0, 1) };
  await changeJob(t.db, made.id, { version, document: { ...document, piece } }, 'test');
  await workOff(t);
  const { rows: fresh } = await sql<{ fresh: boolean }>`
    select judged >= changes as fresh from jobs where id = ${made.id}`.execute(t.db);
  expect(fresh[0]!.fresh).toBe(true);
});

test('what can never be done is said in its own words, and not tried again', async () => {
  expect(finalWords(new RunError('It is locked.'))).toBe('It is locked.');
  expect(finalWords(new IntakeError('It is no sheet.'))).toBe('It is no sheet.');
  expect(finalWords(new Refusal('It is not there.', 404))).toBe('It is not there.');
  // an error that may pass is tried again
  for (const passing of [
    new Refusal('Later.', 503),
    new Refusal('Too many.', 429),
    new Error('ECONNRESET'),
    'text',
  ])
    expect(finalWords(passing)).toBeUndefined();
  await workOff(t);
  const run = await startRun(t.db, made.id, { name: 'Weekend', which: 'ready' }, 'test');
  await endRun(t.db, run, 'Loan 3.pdf is locked', true);
  expect(await viewRun(t.db, run)).toMatchObject({
    state: 'failed',
    error: 'Loan 3.pdf is locked.',
  });
});
