import { spawn } from 'node:child_process';
import { runOnce } from 'graphile-worker';
import { sql } from 'kysely';
import { afterAll, beforeAll, expect, onTestFinished, test } from 'vitest';
import { editCells } from '../../../src/server/lists/edits';
import { viewJob } from '../../../src/server/jobs/jobs';
import { startRun } from '../../../src/server/runs/runs';
import { askIntake } from '../../../src/server/sources/reread';
import { allTasks, performTask } from '../../../src/server/tasks/registry';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';
import { argumentsOf } from '../../helpers/programs';

/**
 * A process is killed after its change is saved and before the verdicts follow: it waits for the
 * list's lock, which the test holds. Whatever the change was, no run begins on the old verdicts,
 * and the queue makes them good.
 */
let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job } = runsIn(() => t);

const rows = [
  ['1', 'Wren'],
  ['2', 'Tam '],
  ['3', 'Inés'],
];
const csv = 'No,Name\n1,Wren\n2,Tam \n2,Odd\n4,New\n';

async function renew(): Promise<void> {
  const all = Object.fromEntries(
    [...allTasks().keys()].map((name) => [
      name,
      (payload: unknown) => performTask(t.db, name, payload),
    ]),
  );
  for (let i = 0; i < 6; i++) {
    await sql`update graphile_worker._private_jobs set run_at = now()`.execute(t.db);
    await runOnce({ pgPool: t.pool, taskList: all });
  }
}

test.each([
  ['edit', ['look', 'look', 'ready']],
  ['undo', ['look', 'look', 'ready']],
  ['mend', ['ready', 'ready', 'ready']],
  ['re-read', ['ready', 'look', 'look', 'ready']],
])('%s', async (what, expected) => {
  const { id, list } = await job(['No', 'Name'], ['key', 'name'], rows);
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  // undoing brings back a letter of another script
  if (what === 'undo') {
    await editCells(
      t.db,
      list,
      [{ record: records[0]!.id, column: 'c2', value: '\u0421lare' }],
      'test',
    );
    await editCells(t.db, list, [{ record: records[0]!.id, column: 'c2', value: 'Clare' }], 'test');
  }
  const origin = { kind: 'file' as const, name: 'people.csv', headerRow: 0 };
  const intake =
    what === 're-read'
      ? await askIntake(t.db, {
          name: 'people.csv',
          bytes: Buffer.from(csv),
          origin,
          list,
          actor: 'test',
        })
      : 0;
  if (intake) {
    await performTask(t.db, 'intake.read', { intake });
    await t.db
      .updateTable('intakes')
      .set({ state: 'taking', take: JSON.stringify({ clashes: 'here', gone: 'out' }) })
      .where('id', '=', intake)
      .execute();
  }
  await renew();
  const before = await viewJob(t.db, id);
  expect(before.judging).toBe(0);
  const holder = await t.pool.connect();
  onTestFinished(() => void holder.release(true));
  await holder.query('select pg_advisory_lock(7421, $1)', [list]);
  const child = spawn(
    process.execPath,
    [
      ...argumentsOf('tests/helpers/one-step'),
      what,
      JSON.stringify({ list, record: records[0]!.id, intake }),
    ],
    { env: { ...process.env, DATABASE_URL: t.url }, stdio: 'inherit' },
  );
  const gone = new Promise((resolve) => child.once('exit', resolve));
  const revision = async () => (await viewJob(t.db, id)).list.revision;
  await expect.poll(revision, { timeout: 60_000 }).toBeGreaterThan(before.list.revision);
  child.kill('SIGKILL');
  await gone;
  await holder.query('select pg_advisory_unlock(7421, $1)', [list]);
  expect((await viewJob(t.db, id)).judging).toBeGreaterThan(0);
  await expect(startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test')).rejects.toThrow(
    'still being checked',
  );
  await renew();
  const after = await viewJob(t.db, id);
  expect(after.judging).toBe(0);
  const verdicts = await t.db
    .selectFrom('job_rows')
    .select('overall')
    .where('job_id', '=', id)
    .orderBy('position')
    .execute();
  expect(verdicts.map((v) => v.overall)).toEqual(expected);
  const { count } = await t.db
    .selectFrom('records')
    .select((e) => e.fn.countAll<number>().as('count'))
    .where('list_id', '=', list)
    .executeTakeFirstOrThrow();
  // what is counted and shown is what is there
  expect([after.counts.all, verdicts.length]).toEqual([count, count]);
});
