import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { Worked } from '../../../src/core/records/worked';
import { createJob, createList } from '../../../src/server/lists/lists';
import { editCells } from '../../../src/server/lists/edits';
import { stepBack } from '../../../src/server/lists/revisions';
import { rejudgeList } from '../../../src/server/judging/judge';
import { doorReport } from '../../../src/server/links/door';
import { keepWorkedColumn, removeWorkedColumn } from '../../../src/server/lists/columns';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const tag: Worked = {
  source: {
    kind: 'join',
    parts: [
      { kind: 'column', column: 'c1' },
      { kind: 'text', text: '-' },
      { kind: 'column', column: 'c2' },
    ],
  },
  steps: [{ kind: 'case', to: 'capitals' }],
};

async function list(rows: string[][]) {
  const { id, columns } = await createList(t.db, {
    name: 'Tools',
    source: 'tools.csv',
    headings: ['Site', 'No'],
    roles: ['text', 'key'],
    rows,
    note: '',
    actor: 'test',
  });
  const job = await createJob(t.db, 'Tags', id, columns, 'test');
  await rejudgeList(t.db, id);
  return { id, job };
}
const records = (id: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', id)
    .orderBy('position')
    .execute();

describe('worked columns', () => {
  test('cover every record, follow edits and their undoing, and cannot be typed over', async () => {
    const { id } = await list([
      ['dh', '1'],
      ['sm', '2'],
      ['', ''],
    ]);
    const column = await keepWorkedColumn(t.db, id, { name: 'Tag', worked: tag }, 'test');
    expect((await records(id)).map((r) => r.values[column])).toEqual(['DH-1', 'SM-2', '']);
    const [first] = await records(id);
    await editCells(t.db, id, [{ record: first!.id, column: 'c2', value: '17' }], 'test');
    expect((await records(id))[0]!.values).toEqual({ c1: 'dh', c2: '17', [column]: 'DH-17' });
    await stepBack(t.db, id, 'undo', 'test');
    expect((await records(id))[0]!.values[column]).toBe('DH-1');
    await expect(
      editCells(t.db, id, [{ record: first!.id, column, value: 'x' }], 'test'),
    ).rejects.toThrow(/cannot type over/);
    const { revision } = await t.db
      .selectFrom('lists')
      .select('revision')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    expect(revision).toBe(4);
  });

  test('a secret is unlike for every record and stays when anything else changes', async () => {
    const { id } = await list(Array.from({ length: 2100 }, (_, i) => ['dh', String(i)]));
    const column = await keepWorkedColumn(
      t.db,
      id,
      { name: 'Token', worked: { source: { kind: 'secret', length: 12 }, steps: [] } },
      'test',
    );
    const before = (await records(id)).map((r) => r.values[column]);
    expect(new Set(before).size).toBe(2100);
    expect(before.every((value) => /^[2-9a-z]{12}$/.test(value!))).toBe(true);
    await keepWorkedColumn(t.db, id, { name: 'Tag', worked: tag }, 'test');
    await keepWorkedColumn(
      t.db,
      id,
      { id: column, name: 'Pass', worked: { source: { kind: 'secret', length: 12 }, steps: [] } },
      'test',
    );
    expect((await records(id)).map((r) => r.values[column])).toEqual(before);
  });

  test('refuse a name that is taken, columns that come later, and to go while they are used', async () => {
    const { id } = await list([['dh', '1']]);
    await expect(keepWorkedColumn(t.db, id, { name: 'site', worked: tag }, 'test')).rejects.toThrow(
      /already called site/,
    );
    const first = await keepWorkedColumn(t.db, id, { name: 'Tag', worked: tag }, 'test');
    const second = await keepWorkedColumn(
      t.db,
      id,
      {
        name: 'Short',
        worked: { source: { kind: 'join', parts: [{ kind: 'column', column: first }] }, steps: [] },
      },
      'test',
    );
    const back: Worked = {
      source: { kind: 'join', parts: [{ kind: 'column', column: second }] },
      steps: [],
    };
    await expect(
      keepWorkedColumn(t.db, id, { id: first, name: 'Tag', worked: back }, 'test'),
    ).rejects.toThrow(/columns before it/);
    await expect(
      keepWorkedColumn(t.db, id, { id: 'c1', name: 'Site', worked: tag }, 'test'),
    ).rejects.toThrow(/no longer exists/);
    await expect(removeWorkedColumn(t.db, id, first, 'test')).rejects.toThrow(
      /Short is worked out from Tag/,
    );
    const { stamps } = await t.db
      .selectFrom('lists')
      .select('stamps')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    stamps[0]!.parts = [{ kind: 'column', column: second }];
    await t.db
      .updateTable('lists')
      .set({ stamps: JSON.stringify(stamps) })
      .where('id', '=', id)
      .execute();
    await expect(removeWorkedColumn(t.db, id, second, 'test')).rejects.toThrow(
      /stamp No uses Short/,
    );
    stamps[0]!.parts = [];
    await t.db
      .updateTable('lists')
      .set({ stamps: JSON.stringify(stamps) })
      .where('id', '=', id)
      .execute();
    await removeWorkedColumn(t.db, id, second, 'test');
    await removeWorkedColumn(t.db, id, first, 'test');
    const { columns } = await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    expect(columns.map((c) => c.name)).toEqual(['Site', 'No']);
  });
});

test('the hosts of a stamp’s codes are counted, the troubled ones first', async () => {
  const { id, job } = await list([
    ['a', 'https://visit.marrambay/1'],
    ['b', 'https://visit.marrambay/2'],
    ['c', 'http://localhost/3'],
    ['d', 'visit.marrambay/4'],
    ['e', ''],
  ]);
  const { stamps } = await t.db
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const stamp = {
    ...stamps[0]!,
    does: 'page' as const,
    parts: [{ kind: 'column' as const, column: 'c2' }],
  };
  await t.db
    .updateTable('lists')
    .set({ stamps: JSON.stringify([stamp]) })
    .where('id', '=', id)
    .execute();
  const { hosts, addresses } = await doorReport(t.db, job, stamp.id!);
  expect(addresses).toBe(3);
  expect(hosts.map((h) => [h.host, h.records, h.trouble?.kind])).toEqual([
    ['localhost', 1, 'this-machine'],
    ['visit.marrambay/4', 1, 'no-scheme'],
    ['visit.marrambay', 2, undefined],
  ]);
  await expect(doorReport(t.db, job, 'gone')).rejects.toThrow(/no longer exists/);
});
