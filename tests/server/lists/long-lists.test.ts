import { sql } from 'kysely';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { rowsQuerySchema } from '../../../src/contract';
import { ledgerRows, viewJob } from '../../../src/server/jobs/jobs';
import { orderOf, wholeList } from '../../../src/server/jobs/order';
import { judgeListNow } from '../../../src/server/judging/judge';
import { editCells } from '../../../src/server/lists/edits';
import { createJob, createList } from '../../../src/server/lists/lists';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

async function listOf(rows: string[][]): Promise<{ list: number; job: number }> {
  const list = await createList(t.db, {
    name: 'Long',
    source: 'test',
    headings: ['No', 'Name'],
    roles: ['key', 'name'],
    rows,
    note: '',
    actor: 'test',
  });
  return {
    list: list.id,
    job: await createJob(t.db, 'Long', list.id, list.columns, 'test'),
  };
}

describe('searching', () => {
  const odd = [
    'Plain Wren',
    'quote " and \\ back',
    'İnci Rowan',
    'warm 300 \u212a',
    'Ödön',
    '100% sure_thing',
    'two\nlines',
    'wren again',
  ];
  test.each([
    ['wren', ['Plain Wren', 'wren again']],
    ['WREN', ['Plain Wren', 'wren again']],
    ['" and', ['quote " and \\ back']],
    ['\\ b', ['quote " and \\ back']],
    ['inci', ['İnci Rowan']],
    ['300 k', ['warm 300 \u212a']],
    ['ödön', ['Ödön']],
    ['ÖD', ['Ödön']],
    ['0% s', ['100% sure_thing']],
    ['e_t', ['100% sure_thing']],
    ['o\nl', ['two\nlines']],
    // headings and the signs of JSON are no words of a record
    ['c1', []],
    ['":"', []],
  ])('finds %j', async (q, names) => {
    const { list, job } = await listOf(odd.map((name, i) => [`N-${i}`, name]));
    await judgeListNow(t.db, list);
    const asked = (view: object) => rowsQuerySchema.parse({ offset: 0, limit: 100, ...view });
    const found = await ledgerRows(t.db, job, asked({ q }));
    expect(found.rows.map((row) => row.values.c2)).toEqual(names);
    // in one column alone, and as the whole of it
    const holds = await ledgerRows(
      t.db,
      job,
      asked({ where: [{ column: 'c2', is: 'holds', text: q }] }),
    );
    expect(holds.rows.map((row) => row.values.c2)).toEqual(names);
    for (const name of names) {
      const where = [{ column: 'c2', is: 'is', text: name.toUpperCase() === name ? q : name }];
      const is = await ledgerRows(t.db, job, asked({ where }));
      expect(is.rows.map((row) => row.values.c2)).toEqual([name]);
    }
  });
});

test('a letter of the rare kind is found as soon as somebody types it', async () => {
  const { list, job } = await listOf([
    ['N-1', 'Plain Wren'],
    ['N-2', 'Rowan'],
  ]);
  await judgeListNow(t.db, list);
  const found = async (q: string) =>
    (await ledgerRows(t.db, job, rowsQuerySchema.parse({ offset: 0, limit: 9, q }))).rows.map(
      (row) => row.values.c2,
    );
  expect(await found('inci')).toEqual([]);
  expect(await found('plain')).toEqual(['Plain Wren']);
  const { rows } = await ledgerRows(t.db, job, rowsQuerySchema.parse({ offset: 0, limit: 9 }));
  const second = rows[1]?.id ?? 0;
  await editCells(t.db, list, [{ record: second, column: 'c2', value: 'İnci Rowan' }], 'test');
  expect(await found('inci')).toEqual(['İnci Rowan']);
  expect(await found('plain')).toEqual(['Plain Wren']);
});

describe('a long list in an order that nobody has asked for yet', () => {
  test('begins with the records with which the whole order begins', async () => {
    const count = 20_050;
    const { list, job } = await listOf(
      Array.from({ length: count }, (_, i) => [
        `N-${(i * 7919) % count}`,
        // many alike, some blank, small and large letters
        i % 400 === 7 ? '  ' : `${i % 2 ? 'wren' : 'Wren'} ${(i * 31) % 97}`,
      ]),
    );
    const window = (sort: string, more: object = {}) =>
      ledgerRows(t.db, job, rowsQuerySchema.parse({ offset: 0, limit: 150, sort, ...more }));
    // not judged yet: no record has its row in the job
    expect(await window('c1:up')).toEqual({ total: 0, rows: [] });
    await judgeListNow(t.db, list);
    for (const sort of ['c1:up', 'c1:down', 'c2:up', 'c2:down'] as const) {
      const first = await window(sort);
      const order = await orderOf(t.db, job, { ...wholeList, sort });
      expect(first.total).toBe(count);
      expect(first.rows.map((row) => row.id)).toEqual(order.slice(0, 150));
      // and the next time it comes from the order that was worked out behind it
      expect(await window(sort)).toEqual(first);
    }
    const [lowest] = (await window('c1:up')).rows;
    expect(lowest?.values.c1).toBe('N-0');
    const [last] = (await window('c2:up', { offset: count - 1 })).rows;
    expect(last?.values.c2!.trim()).toBe('');
    // a view that leaves some out says how many it shows
    expect((await window('c1:up', { q: 'wren 3' })).total).toBeLessThan(count);
    expect((await window('c1:down', { filter: 'look' })).total).toBeLessThan(count);
  });
});

describe('judging a long list', () => {
  test('breaks off as a whole where a batch cannot be written, and is done right the next time', async () => {
    const { list, job } = await listOf(
      Array.from({ length: 9000 }, (_, i) => [
        // the last comes again, four batches after the first
        i === 8999 ? 'N-1' : `N-${i}`,
        `Person ${i}`,
      ]),
    );
    await sql`
      create or replace function no_more() returns trigger language plpgsql as $$
      begin if new.position = 4500 then raise exception 'no more'; end if; return new; end $$`.execute(
      t.db,
    );
    await sql`create or replace trigger no_more before insert or update on job_rows for each row execute function no_more()`.execute(
      t.db,
    );
    await expect(judgeListNow(t.db, list)).rejects.toThrow('no more');
    // neither is the list fresh nor does it say that it is
    expect((await viewJob(t.db, job)).judging).toBeGreaterThan(0);
    await sql`drop trigger no_more on job_rows`.execute(t.db);
    await judgeListNow(t.db, list);
    const { counts, judging } = await viewJob(t.db, job);
    expect(judging).toBe(0);
    expect(counts).toMatchObject({ all: 9000, ready: 8998, look: 2 });
    const asked = rowsQuerySchema.parse({ offset: 0, limit: 100, problem: 'repeat' });
    const { rows } = await ledgerRows(t.db, job, asked);
    expect(rows.map((row) => row.number)).toEqual([2, 9000]);
  });

  test('reaches every record, however many places between them are empty', async () => {
    const { list, job } = await listOf(Array.from({ length: 50 }, (_, i) => [`N-${i}`, `P ${i}`]));
    // a hole as long as several batches, one at the beginning, and records at the ends of batches
    const places = [1999, 2000, 2001, 3999, 4000, 9000, 15_999, 2_000_000_000];
    await sql`
      update records set position = (${places}::int[])[position + 1] where list_id = ${list} and position < 8`.execute(
      t.db,
    );
    await sql`delete from records where list_id = ${list} and position between 8 and 20`.execute(
      t.db,
    );
    await judgeListNow(t.db, list);
    const judged = await t.db
      .selectFrom('job_rows')
      .select('position')
      .where('job_id', '=', job)
      .orderBy('position')
      .execute();
    const left = Array.from({ length: 29 }, (_, i) => i + 21);
    expect(judged.map((row) => row.position)).toEqual([...left, ...places]);
    expect((await viewJob(t.db, job)).counts).toMatchObject({ all: 37, ready: 37 });
  });

  test('tells those that come again no more as well', async () => {
    const { list, job } = await listOf([
      ['A', 'one'],
      ['A', 'two'],
      ['B', 'three'],
    ]);
    const marks = async () =>
      (
        await t.db
          .selectFrom('job_rows')
          .select('overall')
          .where('job_id', '=', job)
          .orderBy('position')
          .execute()
      ).map((row) => row.overall);
    await judgeListNow(t.db, list);
    expect(await marks()).toEqual(['look', 'look', 'ready']);
    await sql`update records set values = '{"c1":"C","c2":"two"}' where list_id = ${list} and position = 1`.execute(
      t.db,
    );
    await judgeListNow(t.db, list);
    expect(await marks()).toEqual(['ready', 'ready', 'ready']);
  });
});
