import { viewSchema, type NewRun } from '../../../src/contract';
import { createHash } from 'node:crypto';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import type { JobDocument } from '../../../src/core/job/document';
import type { Column } from '../../../src/core/records/columns';
import { nextStamp } from '../../../src/core/payload/stamp';
import { placesOn, stockOf } from '../../../src/core/piece/stock';
import { editCells } from '../../../src/server/lists/edits';
import { addJob, changeJob, ledgerRows, removeJob, viewJob } from '../../../src/server/jobs/jobs';
import { keepListPicture } from '../../../src/server/lists/list-pictures';
import { removeList, renameList } from '../../../src/server/lists/lists';
import { proofOf } from '../../../src/server/runs/proof';
import { receiptPages, receiptPart } from '../../../src/server/runs/receipt';
import { viewRun } from '../../../src/server/runs/run-views';
import { runAgain } from '../../../src/server/runs/runs';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn } from '../../helpers/runs';
import { colourPng } from '../../helpers/pictures';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, run, bytesOf, work } = runsIn(() => t);

const headings = ['No', 'Name', 'Copies', 'Pass'];
const roles: Column['role'][] = ['key', 'name', 'text', 'text'];
const rows = Array.from({ length: 30 }, (_, i) => [
  i === 7 ? '' : `DH-${String(i + 1).padStart(3, '0')}`,
  `Person ${i + 1}`,
  String(i % 3),
  i % 10 === 0 ? '' : `p${i}`,
]);
const change = async (id: number, how: (document: JobDocument) => JobDocument) => {
  const { version, document } = await viewJob(t.db, id);
  await changeJob(t.db, id, { version, document: how(document) }, 'test');
};
const itemsOf = (runId: number) =>
  t.db
    .selectFrom('run_items')
    .select(['seq', 'record_id', 'values'])
    .where('run_id', '=', runId)
    .orderBy('seq')
    .execute();
const marksOf = async (id: number) =>
  (await ledgerRows(t.db, id, { ...viewSchema.parse({}), offset: 0, limit: 100 })).rows.map((r) => [
    r.marks.stamps,
    r.marks.overall,
  ]);

describe('the proof of a run', () => {
  const wishes: [string, Partial<NewRun>][] = [
    ['those that are ready', { which: 'ready' }],
    ['all that have a code', { which: 'with-code' }],
    [
      'those that are shown, in their order',
      { which: 'filtered', view: { q: 'Person 1', sort: 'c2:down' } },
    ],
    ['those that are ready, by another column', { which: 'ready', sort: 'c3:down' }],
    ['a file for each record', { which: 'with-code', output: { kind: 'pdf-each' } }],
  ];
  test.each(wishes)('%s: sheet by sheet just what the run makes', async (_, wish) => {
    const { id } = await job(headings, roles, rows);
    await change(id, (d) => ({ ...d, options: { ...d.options, start: 5, copiesFrom: 'c3' } }));
    const { document } = await viewJob(t.db, id);
    const asked = { name: 'Weekend', which: 'with-code' as const, ...wish };
    const first = await proofOf(t.db, id, asked, 0);
    const all = [...first.items];
    for (let sheet = 1; sheet < first.sheets; sheet++)
      all.push(...(await proofOf(t.db, id, asked, sheet)).items);
    const made = await run(id, wish);
    const items = await itemsOf(made);
    expect(items.length).toBeGreaterThan(3);
    expect(all.map((i) => [i.seq, i.record, i.values])).toEqual(
      items.map((i) => [i.seq, i.record_id, i.values]),
    );
    const view = await viewRun(t.db, made);
    expect(first.pieces).toBe(view.pieces);
    if (!wish.output) {
      expect(first.sheets).toBe(view.sheets);
      // the first four places of the first sheet were used up
      expect(first.items).toHaveLength(
        Math.min(items.length, placesOn(stockOf(document.piece)) - 4),
      );
    }
    expect(first.leftOut.map((l) => l.record)).toEqual(view.leftOut.map((l) => l.record));
  });

  test('says how many of the chosen need a look, and why others are left out', async () => {
    const { id } = await job(headings, roles, rows);
    const all = await proofOf(t.db, id, { name: 'x', which: 'with-code' }, 0);
    const ready = await proofOf(t.db, id, { name: 'x', which: 'ready' }, 0);
    expect([all.records, all.look, ready.look]).toEqual([29, 0, 0]);
    expect(all.leftOut).toMatchObject([{ title: 'Person 8' }]);
    expect(all.leftOut[0]!.reason).toContain('No is blank');
  });
});

describe('a list with two stamps', () => {
  const second = (id: number) =>
    change(id, (d) => ({
      ...d,
      stamps: [
        ...d.stamps,
        { ...nextStamp(d.stamps, []), name: 'Pass', parts: [{ kind: 'column', column: 'c4' }] },
      ],
    }));
  test('a blank code leaves a record out only where its piece bears that code', async () => {
    const { id } = await job(headings, roles, rows.slice(0, 3));
    await second(id);
    expect(await marksOf(id)).toEqual([
      ['ready', 'ready'],
      ['ready', 'ready'],
      ['ready', 'ready'],
    ]);
    await change(id, (d) => ({
      ...d,
      piece: {
        ...d.piece,
        elements: [
          ...d.piece.elements,
          { kind: 'stamp', id: 'pass', stamp: 'stamp-2', x: 4, y: 20, sizeMm: 10 },
        ],
      },
    }));
    expect(await marksOf(id)).toEqual([
      ['out', 'out'],
      ['ready', 'ready'],
      ['ready', 'ready'],
    ]);
  });
  test('one that says nothing at all is left out in any case', async () => {
    const { id } = await job(headings, roles, [['', 'Nobody', '1', '']]);
    await second(id);
    expect(await marksOf(id)).toEqual([['out', 'out']]);
  });
});

describe('the receipt on the screen', () => {
  test('page by page, and all that failed in one place, with the secret hidden', async () => {
    const { id, list } = await job(headings, roles, rows);
    await change(id, (d) => ({
      ...d,
      // the last piece element lies over the code of every record
      piece: {
        ...d.piece,
        elements: [
          ...d.piece.elements,
          { kind: 'box', id: 'lid', x: 30, y: 5, width: 33, height: 30, fill: '#ffffff' },
        ],
      },
    }));
    const covered = await run(id);
    const pages = await receiptPages(t.db, covered);
    expect(pages).toEqual([
      { page: 1, codes: 21, failed: 21, paper: 0 },
      { page: 2, codes: 8, failed: 8, paper: 0 },
    ]);
    const failed = await receiptPart(t.db, covered, 'failed');
    expect(failed).toHaveLength(29);
    expect(failed[0]).toMatchObject({
      title: 'Person 1',
      page: 1,
      place: 1,
      result: 'unread',
      readsAs: '',
    });
    await change(id, (d) => ({
      ...d,
      piece: { ...d.piece, elements: d.piece.elements.filter((e) => e.id !== 'lid') },
    }));
    const columns = await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    await t.db
      .updateTable('lists')
      .set({
        columns: JSON.stringify(
          columns.columns.map((c) => (c.id === 'c1' ? { ...c, secret: true } : c)),
        ),
      })
      .where('id', '=', list)
      .execute();
    const good = await run(id);
    expect(await receiptPart(t.db, good, 'failed')).toEqual([]);
    const lines = await receiptPart(t.db, good, { page: 2 });
    expect(lines.map((l) => l.place)).toEqual([1, 2, 3, 4, 5, 6, 7, 8]);
    expect(
      lines.every((l) => l.result === 'read' && l.payload === '••••••' && l.readsAs === '••••••'),
    ).toBe(true);
  });
});

describe('the same run again', () => {
  const hash = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
  const again = async (made: number, ending: string) => {
    const id = await runAgain(t.db, made, 'test');
    await work();
    return hash(await bytesOf(id, ending));
  };
  test.each(['png', 'svg', 'eps', 'pdf', 'jpeg'] as const)(
    'gives the same bytes for pictures as %s in their ZIP',
    async (format) => {
      const { id, list } = await job(headings, roles, rows.slice(0, 4));
      const made = await run(id, { output: { kind: 'images', format } });
      const before = await bytesOf(made, '.zip');
      const [record] = await t.db
        .selectFrom('records')
        .select('id')
        .where('list_id', '=', list)
        .limit(1)
        .execute();
      await editCells(t.db, list, [{ record: record!.id, column: 'c1', value: 'changed' }], 'test');
      expect(await again(made, '.zip')).toBe(hash(before));
      const files = unzipSync(before);
      const first = Object.keys(files).find((n) => n.includes('DH-001'))!;
      expect(files[first]!.length).toBeGreaterThan(100);
    },
  );
  test.each([
    ['csv', '.csv'],
    ['html', '.html'],
    ['pdf-each', '.zip'],
  ] as const)('and for %s', async (kind, ending) => {
    const { id } = await job(headings, roles, rows.slice(0, 4));
    const made = await run(id, { output: { kind } });
    expect(await again(made, ending)).toBe(hash(await bytesOf(made, ending)));
  });

  test('has the pictures that the first one had, whatever became of them in the list', async () => {
    const { id, list } = await job(
      ['No', 'Name', 'Photo'],
      ['key', 'name', 'picture'],
      [['1', 'Ines', 'ines.png']],
    );
    await keepListPicture(t.db, list, 'ines.png', colourPng([200, 30, 30]));
    await change(id, (d) => ({
      ...d,
      piece: {
        ...d.piece,
        elements: [
          { kind: 'picture', id: 'photo', column: 'c3', x: 2, y: 2, width: 20, height: 20 },
          ...d.piece.elements,
        ],
      },
    }));
    const made = await run(id);
    const before = hash(await bytesOf(made, '.pdf'));
    await keepListPicture(t.db, list, 'ines.png', colourPng([30, 30, 200]));
    expect(await again(made, '.pdf')).toBe(before);
    expect(hash(await bytesOf(await run(id), '.pdf'))).not.toBe(before);
  });
});

describe('throwing away', () => {
  test('a job goes alone while its list has another, and takes the list with it when it is the last', async () => {
    const { id, list } = await job(headings, roles, rows);
    const other = await addJob(t.db, list, { name: 'Signs' }, 'test');
    await run(id);
    expect((await viewJob(t.db, id)).list.jobs).toBe(2);
    await removeJob(t.db, id);
    const left = (table: 'records' | 'jobs') =>
      t.db.selectFrom(table).select('id').where('list_id', '=', list).execute();
    expect([(await left('records')).length, (await left('jobs')).length]).toEqual([30, 1]);
    expect(await t.db.selectFrom('runs').select('id').where('job_id', '=', id).execute()).toEqual(
      [],
    );
    await removeJob(t.db, other);
    expect([(await left('records')).length, (await left('jobs')).length]).toEqual([0, 0]);
  });
  test('a list is renamed, and thrown away with its jobs', async () => {
    const { id, list } = await job(headings, roles, rows);
    await renameList(t.db, list, { name: 'Guides' });
    expect((await viewJob(t.db, id)).list.name).toBe('Guides');
    await removeList(t.db, list);
    await expect(viewJob(t.db, id)).rejects.toThrow();
  });
  test('whatever refers to records, lists, jobs or runs has an index to be found by', async () => {
    const { rows: bare } = await t.pool.query<{ what: string }>(`
      select c.conrelid::regclass || ' ' || a.attname as what from pg_constraint c
      join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
      where c.contype = 'f' and c.connamespace = 'public'::regnamespace and not exists (
        select 1 from pg_index i where i.indrelid = c.conrelid and i.indkey[0] = c.conkey[1])`);
    expect(bare.map((r) => r.what)).toEqual([]);
  });
});
