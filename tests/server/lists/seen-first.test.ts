import { afterAll, beforeAll, expect, test } from 'vitest';
import { rowsQuerySchema } from '../../../src/contract';
import { changeJob, ledgerRows, stepJob, viewJob } from '../../../src/server/jobs';
import { judgeListNow } from '../../../src/server/judging/judge';
import { createJob, createList } from '../../../src/server/lists/lists';
import { testDatabase, type TestDatabase } from '../../helpers/database';

/** Longer than what is checked while somebody waits, and than what is counted each time. */
const count = 20_100;
/** Far down, where the background task arrives late. */
const offset = 15_000;

let t: TestDatabase;
let list: number;
let job: number;
beforeAll(async () => {
  t = await testDatabase();
  const made = await createList(t.db, {
    name: 'Long',
    source: 'test',
    headings: ['No', 'Name'],
    roles: ['key', 'name'],
    rows: Array.from({ length: count }, (_, i) => [`N-${i}`, `Person ${i}`]),
    note: '',
    actor: 'test',
  });
  list = made.id;
  job = await createJob(t.db, 'Long', list, made.columns, 'test');
  await judgeListNow(t.db, list);
});
afterAll(() => t.close());

const marks = async (from = offset) => {
  const asked = rowsQuerySchema.parse({ offset: from, limit: 50 });
  const { rows } = await ledgerRows(t.db, job, asked);
  return { ids: rows.map((row) => row.id), stamps: rows.map((row) => row.marks.stamps) };
};
const all = (mark: string) => Array.from({ length: 50 }, () => mark);

/** Gives the stamp a symbology that carries numbers only, or one that carries all of it. */
async function changeStamp(symbology: 'ean-13' | 'qr', seen: number[]): Promise<void> {
  const { version, document } = await viewJob(t.db, job);
  const stamps = document.stamps.map((stamp) => ({ ...stamp, symbology, options: {} }));
  await changeJob(t.db, job, { version, seen, document: { ...document, stamps } }, 'test');
}

const waiting = async () =>
  (await t.pool.query('select task_identifier as task from graphile_worker.jobs')).rows.map(
    (row: { task: string }) => row.task,
  );

test('what somebody has before them is judged with the change; the rest waits its turn', async () => {
  const { ids } = await marks();
  await changeStamp('ean-13', ids);
  expect((await marks()).stamps).toEqual(all('look'));
  expect((await marks(18_000)).stamps).toEqual(all('ready'));
  const view = await viewJob(t.db, job);
  expect(view.judging).toBeGreaterThan(0);
  expect(view.counts.all).toBe(count);
  expect(await waiting()).toContain('list.judge');
  // taken back, and seen at once as well
  await stepJob(t.db, job, 'undo', 'test', { seen: ids });
  expect((await marks()).stamps).toEqual(all('ready'));
  await stepJob(t.db, job, 'redo', 'test', { seen: ids });
  expect((await marks()).stamps).toEqual(all('look'));
  await judgeListNow(t.db, list);
  const after = await viewJob(t.db, job);
  expect(after).toMatchObject({ judging: 0, counts: { all: count, ready: 0, look: count } });
});

test('no judging by the stamps of before is put over it, or taken for the whole', async () => {
  await changeStamp('ean-13', []);
  await judgeListNow(t.db, list);
  const { ids, stamps } = await marks();
  expect(stamps).toEqual(all('look'));
  // started with the old stamps; it reaches those rows after they were checked by the new ones
  const before = judgeListNow(t.db, list);
  await changeStamp('qr', ids);
  await before;
  expect((await marks()).stamps).toEqual(all('ready'));
  expect((await viewJob(t.db, job)).judging).toBeGreaterThan(0);
  await judgeListNow(t.db, list);
  const after = await viewJob(t.db, job);
  expect(after).toMatchObject({ judging: 0, counts: { all: count, ready: count, look: 0 } });
});

test('numbers of records that are not of this list are passed over', async () => {
  await changeStamp('qr', []);
  await judgeListNow(t.db, list);
  const { ids } = await marks();
  await changeStamp('ean-13', [...ids.slice(0, 3), 2_000_000_000, -1]);
  expect((await marks()).stamps).toEqual([...all('look').slice(0, 3), ...all('ready').slice(3)]);
});
