import { viewSchema } from '../../../src/contract';
import { runOnce, type TaskList } from 'graphile-worker';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import type { Worked } from '../../../src/core/records/worked';
import { changeColumn, keepWorkedColumn } from '../../../src/server/lists/columns';
import { addRecords, editCells, removeRecords } from '../../../src/server/lists/edits';
import { addJob, changeJob, jump, ledgerRows, viewJob } from '../../../src/server/jobs/jobs';
import { judgeListNow, judgePieceNow, rejudgeList } from '../../../src/server/judging/judge';
import { keep, listKept } from '../../../src/server/jobs/kept';
import { listLists } from '../../../src/server/lists/list-views';
import { createJob, createList } from '../../../src/server/lists/lists';
import { orderOf } from '../../../src/server/jobs/order';
import { mend, problemRows } from '../../../src/server/lists/problems';
import {
  listRevisions,
  revisionRows,
  stepBack,
  turnRevision,
} from '../../../src/server/lists/revisions';
import { quickPrint } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { blankSheet, startTypedList } from '../../../src/server/jobs/sheets';
import { readBook } from '../../../src/server/sources/files/book';
import { assembleRun, runChunk } from '../../../src/server/runs/making';
import { renewJob, renewList, workOutNow } from '../../../src/server/lists/working';
import { previewWorked } from '../../../src/server/lists/worked-preview';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());

const tasks: TaskList = {
  'list.judge': async (p) => judgeListNow(t.db, (p as { list: number }).list),
  'list.work': async (p) => workOutNow(t.db, (p as { list: number }).list),
  'list.renew': async (p) => renewList(t.db, (p as { list: number }).list),
  'job.renew': async (p) => renewJob(t.db, (p as { job: number }).job),
  'job.judge': async (p) => judgePieceNow(t.db, (p as { job: number }).job),
  'run.chunk': async (p) =>
    runChunk(t.db, (p as { run: number }).run, (p as { chunk: number }).chunk),
  'run.assemble': async (p) => assembleRun(t.db, (p as { run: number }).run),
};
const work = () => runOnce({ pgPool: t.pool, taskList: tasks });

async function list(
  rows: string[][],
  headings = ['Tag', 'Name', 'Number'],
  roles: ('key' | 'name' | 'product' | 'text')[] = ['key', 'name', 'product'],
) {
  const made = await createList(t.db, {
    name: 'Tools',
    source: 'tools.csv',
    origin: { kind: 'file', name: 'tools.csv', headerRow: 0 },
    headings,
    roles,
    rows,
    note: `${rows.length} records`,
    actor: 'test',
  });
  const job = await createJob(t.db, 'Tags', made.id, made.columns, 'test');
  await rejudgeList(t.db, made.id);
  return { id: made.id, job };
}
const records = (id: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values', 'hand', 'position'])
    .where('list_id', '=', id)
    .orderBy('position')
    .execute();
const problemsOf = async (job: number) =>
  Object.fromEntries((await viewJob(t.db, job)).problems.map((p) => [p.kind, p.records]));
const view = (more: Record<string, string> = {}) => viewSchema.parse(more);

describe('problems', () => {
  test('are counted by kind over the list, and follow every edit', async () => {
    const { id, job } = await list([
      ['T-1', 'Spade', '2000411000017'],
      ['T-1', 'Fork ', '2000411000018'],
      ['t-1', 'Rake\u200b', '40000700418'],
      ['', 'Hoe', '2.00041E+12'],
    ]);
    expect(await problemsOf(job)).toEqual({
      blank: 1,
      repeat: 2,
      alike: 1,
      rounded: 1,
      zeros: 1,
      'check-digit': 1,
      invisible: 1,
      spaces: 1,
    });
    const [, second, third, fourth] = await records(id);
    await editCells(
      t.db,
      id,
      [
        { record: third!.id, column: 'c1', value: 'T-9' },
        { record: fourth!.id, column: 'c1', value: 'T-4' },
      ],
      'test',
    );
    expect(await problemsOf(job)).toMatchObject({ repeat: 2, rounded: 1 });
    expect(await problemsOf(job)).not.toHaveProperty('alike');
    await editCells(t.db, id, [{ record: second!.id, column: 'c1', value: 'T-2' }], 'test');
    expect(await problemsOf(job)).toEqual({
      rounded: 1,
      zeros: 1,
      'check-digit': 1,
      invisible: 1,
      spaces: 1,
    });
  });

  test('codes that say the same are told although the keys differ; fixed codes are meant to', async () => {
    const { id, job } = await list([
      ['1', 'a', ''],
      ['2', 'b', ''],
      ['3', 'b', ''],
    ]);
    const { document, version } = await viewJob(t.db, job);
    const stamp = { ...document.stamps[0]!, parts: [{ kind: 'column' as const, column: 'c2' }] };
    await changeJob(t.db, job, { version, document: { ...document, stamps: [stamp] } }, 'test');
    expect(await problemsOf(job)).toEqual({ 'same-code': 2 });
    expect((await problemRows(t.db, id, 'same-code')).map((r) => r.number)).toEqual([2, 3]);
    await changeJob(
      t.db,
      job,
      {
        version: version + 1,
        document: { ...document, stamps: [{ ...stamp, parts: [{ kind: 'text', text: 'hello' }] }] },
      },
      'test',
    );
    expect(await problemsOf(job)).toEqual({});
  });

  test('are mended all at once or some, in one revision that can be undone', async () => {
    const { id, job } = await list([
      ['T-1', 'A ', ''],
      ['T-1', ' B', ''],
      ['T-1', 'C  c', ''],
      ['T-1-2', 'D', ''],
    ]);
    const rows = await problemRows(t.db, id, 'repeat');
    expect(rows.map((r) => [r.value, r.mended])).toEqual([
      ['T-1', undefined],
      ['T-1', 'T-1-3'],
      ['T-1', 'T-1-4'],
    ]);
    expect(await mend(t.db, id, 'repeat', undefined, 'test')).toBe(2);
    expect((await records(id)).map((r) => r.values.c1)).toEqual(['T-1', 'T-1-3', 'T-1-4', 'T-1-2']);
    const [first] = await problemRows(t.db, id, 'spaces');
    expect(await mend(t.db, id, 'spaces', [first!.record], 'test')).toBe(1);
    expect((await records(id)).map((r) => r.values.c2)).toEqual(['A', ' B', 'C  c', 'D']);
    expect((await listRevisions(t.db, id)).map((r) => r.note)).toEqual([
      '1 stray space fixed',
      '2 repeated keys fixed',
      '4 records',
    ]);
    await stepBack(t.db, id, 'undo', 'test');
    await stepBack(t.db, id, 'undo', 'test');
    expect((await records(id)).map((r) => [r.values.c1, r.values.c2])).toEqual([
      ['T-1', 'A '],
      ['T-1', ' B'],
      ['T-1', 'C  c'],
      ['T-1-2', 'D'],
    ]);
    expect(await problemsOf(job)).toEqual({ repeat: 3, spaces: 3 });
    await expect(mend(t.db, id, 'blank', undefined, 'test')).rejects.toThrow(
      /cannot fix this by itself/,
    );
  });
});

describe('revisions', () => {
  test('any of them can be undone by itself; cells changed since stay and are counted', async () => {
    const { id } = await list([
      ['1', 'a', ''],
      ['2', 'b', ''],
    ]);
    const [one, two] = await records(id);
    await editCells(
      t.db,
      id,
      [
        { record: one!.id, column: 'c2', value: 'A' },
        { record: two!.id, column: 'c2', value: 'B' },
      ],
      'test',
    );
    await editCells(t.db, id, [{ record: two!.id, column: 'c2', value: 'BB' }], 'test');
    const [, first] = await listRevisions(t.db, id);
    expect(
      (await revisionRows(t.db, id, first!.number, 0)).rows.map((r) => [r.title, r.cells]),
    ).toEqual([
      ['A', [{ column: 'Name', before: 'a', after: 'A' }]],
      ['B', [{ column: 'Name', before: 'b', after: 'B' }]],
    ]);
    expect(await turnRevision(t.db, id, first!.number, 'undo', 'test')).toMatch(
      /1 cell changed since stay as they are/,
    );
    expect((await records(id)).map((r) => r.values.c2)).toEqual(['a', 'BB']);
    await expect(turnRevision(t.db, id, first!.number, 'undo', 'test')).rejects.toThrow(
      /already undone/,
    );
    await turnRevision(t.db, id, first!.number, 'redo', 'test');
    expect((await records(id)).map((r) => r.values.c2)).toEqual(['A', 'BB']);
    await expect(turnRevision(t.db, id, 1, 'undo', 'test')).rejects.toThrow(
      /where the list was created/,
    );
  });

  test('records that are added and taken out come and go with undo, under their own numbers', async () => {
    const { id, job } = await list([
      ['1', 'a', ''],
      ['1', 'b', ''],
      ['3', 'c', ''],
    ]);
    const [one, two, three] = await records(id);
    expect(await problemsOf(job)).toEqual({ repeat: 2 });
    await removeRecords(t.db, id, [one!.id, three!.id], 'test');
    expect(await problemsOf(job)).toEqual({});
    expect((await viewJob(t.db, job)).counts.all).toBe(1);
    await stepBack(t.db, id, 'undo', 'test');
    expect((await records(id)).map((r) => r.id)).toEqual([one!.id, two!.id, three!.id]);
    expect(await problemsOf(job)).toEqual({ repeat: 2 });
    const [added] = await addRecords(t.db, id, [{ c1: '4', c2: 'd' }], 'test');
    await editCells(t.db, id, [{ record: added!, column: 'c2', value: 'dd' }], 'test');
    await stepBack(t.db, id, 'undo', 'test');
    await stepBack(t.db, id, 'undo', 'test');
    expect((await viewJob(t.db, job)).counts.all).toBe(3);
    await stepBack(t.db, id, 'redo', 'test');
    await stepBack(t.db, id, 'redo', 'test');
    expect((await records(id)).at(-1)).toMatchObject({
      id: added,
      values: { c1: '4', c2: 'dd', c3: '' },
    });
  });

  test('where a record was printed comes back with it', async () => {
    const { id, job } = await list([
      ['1', 'a', ''],
      ['2', 'b', ''],
    ]);
    const [one] = await records(id);
    await t.db
      .updateTable('job_rows')
      .set({ run_id: 7, run_mark: 'ready', run_page: 3, run_place: 5, printed: 'x' })
      .where('record_id', '=', one!.id)
      .execute();
    await removeRecords(t.db, id, [one!.id], 'test');
    await stepBack(t.db, id, 'undo', 'test');
    const { rows } = await ledgerRows(t.db, job, { ...view(), offset: 0, limit: 10 });
    expect(rows[0]).toMatchObject({ page: 3, place: 5, marks: { run: 'ready' } });
  });
});

describe('columns', () => {
  let made: { id: number; job: number };
  beforeEach(async () => {
    made = await list([
      ['1', 'a', ''],
      ['2', 'b', ''],
    ]);
  });
  const columns = async () => (await viewJob(t.db, made.job)).list.columns;

  test('are renamed, moved, hidden, added and said to be secret, each undone in turn', async () => {
    const { id } = made;
    await changeColumn(t.db, id, { does: 'rename', id: 'c2', name: 'Called' }, 'test');
    await changeColumn(t.db, id, { does: 'move', id: 'c3', to: 0 }, 'test');
    await changeColumn(t.db, id, { does: 'hide', id: 'c3', hidden: true }, 'test');
    await changeColumn(t.db, id, { does: 'add', name: 'Note' }, 'test');
    expect(await columns()).toMatchObject([
      { id: 'c3', hidden: true },
      { id: 'c1' },
      { id: 'c2', name: 'Called', source: 'Name' },
      { id: 'c4', name: 'Note' },
    ]);
    for (let i = 0; i < 4; i++) await stepBack(t.db, id, 'undo', 'test');
    expect((await columns()).map((c) => [c.id, c.name, c.hidden])).toEqual([
      ['c1', 'Tag', undefined],
      ['c2', 'Name', undefined],
      ['c3', 'Number', undefined],
    ]);
    await expect(
      changeColumn(t.db, id, { does: 'hide', id: 'c1', hidden: true }, 'test'),
    ).rejects.toThrow(/is the key of the records/);
    await expect(
      changeColumn(t.db, id, { does: 'rename', id: 'c2', name: 'tag' }, 'test'),
    ).rejects.toThrow(/already called tag/);
  });

  test('a column never stands before what it is worked out from', async () => {
    const tag: Worked = {
      source: { kind: 'join', parts: [{ kind: 'column', column: 'c3' }] },
      steps: [],
    };
    const w = await keepWorkedColumn(t.db, made.id, { name: 'W', worked: tag }, 'test');
    await expect(
      changeColumn(t.db, made.id, { does: 'move', id: w, to: 0 }, 'test'),
    ).rejects.toThrow(/would then come after it/);
  });

  test('a secret column takes the text away from under the bars', async () => {
    const { document, version } = await viewJob(t.db, made.job);
    await changeJob(
      t.db,
      made.job,
      {
        version,
        document: { ...document, stamps: [{ ...document.stamps[0]!, symbology: 'code-128' }] },
      },
      'test',
    );
    await changeColumn(t.db, made.id, { does: 'secret', id: 'c1', secret: true }, 'test');
    expect((await viewJob(t.db, made.job)).document.stamps[0]!.look.hri).toBe('none');
  });

  test('a secret comes back unchanged when taking its column away is undone', async () => {
    const w = await keepWorkedColumn(
      t.db,
      made.id,
      { name: 'Pass', worked: { source: { kind: 'secret', length: 8 }, steps: [] } },
      'test',
    );
    const before = (await records(made.id)).map((r) => r.values[w]);
    const { removeWorkedColumn } = await import('../../../src/server/lists/columns');
    await removeWorkedColumn(t.db, made.id, w, 'test');
    await stepBack(t.db, made.id, 'undo', 'test');
    expect((await records(made.id)).map((r) => r.values[w])).toEqual(before);
    expect((await columns()).at(-1)?.name).toBe('Pass');
  });
});

describe('looking things up in another list', () => {
  test('gives what stands beside the value, and follows that list', async () => {
    const beds = await list([
      ['B1', 'North wall', ''],
      ['B2', 'Pond', ''],
    ]);
    const plants = await list([
      ['P1', 'B2', ''],
      ['P2', ' B1 ', ''],
      ['P3', 'B9', ''],
    ]);
    const worked: Worked = {
      source: { kind: 'join', parts: [{ kind: 'column', column: 'c2' }] },
      steps: [{ kind: 'lookup', list: beds.id, by: 'c1', give: 'c2' }],
    };
    const w = await keepWorkedColumn(t.db, plants.id, { name: 'Where', worked }, 'test');
    const where = async () => (await records(plants.id)).map((r) => r.values[w]);
    expect(await where()).toEqual(['Pond', 'North wall', '']);
    const [north] = await records(beds.id);
    await editCells(
      t.db,
      beds.id,
      [{ record: north!.id, column: 'c2', value: 'South wall' }],
      'test',
    );
    await work();
    expect(await where()).toEqual(['Pond', 'South wall', '']);
    const [hand] = await records(plants.id);
    expect(
      (await previewWorked(t.db, plants.id, { worked, id: w, record: hand!.id })).rows[0],
    ).toEqual({ number: 1, result: 'Pond' });
    await expect(
      keepWorkedColumn(
        t.db,
        plants.id,
        {
          id: w,
          name: 'Where',
          worked: { ...worked, steps: [{ kind: 'lookup', list: beds.id, by: 'c77', give: 'c2' }] },
        },
        'test',
      ),
    ).rejects.toThrow(/no longer exists/);
  });
});

describe('what the ledger shows', () => {
  test('sorted with numbers by their size, filtered by a column and by a problem, blanks last', async () => {
    const { job } = await list([
      ['T-10', 'b ', ''],
      ['T-9', 'a', ''],
      ['', 'c', ''],
      ['T-100', 'B', ''],
    ]);
    const keys = async (more: Record<string, string>) =>
      (await ledgerRows(t.db, job, { ...view(more), offset: 0, limit: 10 })).rows.map(
        (r) => r.values.c1,
      );
    expect(await keys({ sort: 'c1:up' })).toEqual(['T-9', 'T-10', 'T-100', '']);
    expect(await keys({ sort: 'c1:down' })).toEqual(['T-100', 'T-10', 'T-9', '']);
    expect(await keys({ where: JSON.stringify([{ column: 'c2', is: 'is', text: 'b' }]) })).toEqual([
      'T-10',
      'T-100',
    ]);
    expect(await keys({ where: JSON.stringify([{ column: 'c1', is: 'blank' }]) })).toEqual(['']);
    expect(await keys({ problem: 'spaces' })).toEqual(['T-10']);
    const sorted = view({ sort: 'c1:up' });
    const ids = await orderOf(t.db, job, sorted);
    expect(await jump(t.db, job, { ...sorted, to: 'record', record: ids[2] })).toBe(2);
    expect(() => view({ where: 'nonsense' })).toThrow();
    expect(() => view({ sort: "c1'--:up" })).toThrow();
  });
});

describe('several jobs of one list', () => {
  test('share its stamps; a stamp on another piece cannot be taken away, and the other window learns of changes', async () => {
    const { id, job } = await list([['1', 'a', '']]);
    const other = await addJob(t.db, id, { name: 'Signs' }, 'test');
    const before = await viewJob(t.db, job);
    const stamps = [
      { ...before.document.stamps[0]!, name: 'Door' },
      { ...before.document.stamps[0]!, id: 'stamp-2', name: 'Till' },
    ];
    await changeJob(
      t.db,
      job,
      { version: before.version, document: { ...before.document, stamps } },
      'test',
    );
    const seen = await viewJob(t.db, other);
    expect(seen.document.stamps.map((s) => s.name)).toEqual(['Door', 'Till']);
    expect(seen.stampCounts['stamp-2']).toEqual({ ready: 1, look: 0, out: 0 });
    await expect(
      changeJob(t.db, other, { version: 1, document: seen.document }, 'test'),
    ).rejects.toThrow(/another window/);
    const mine = {
      stamps: stamps.slice(1),
      piece: { ...before.document.piece, elements: [] },
      options: before.document.options,
    };
    await expect(
      changeJob(t.db, job, { version: before.version + 1, document: mine }, 'test'),
    ).rejects.toThrow(/Signs has Door on its piece/);
    expect((await listLists(t.db)).find((l) => l.id === id)).toMatchObject({
      stamps: ['Door', 'Till'],
      // lists of this file have jobs of one name, which are told apart
      jobs: [{ name: 'Signs' }, { name: expect.stringMatching(/^Tags( \(\d+\))?$/) as string }],
    });
  });
});

test('a quick print makes a scannable sheet of the ticked rows and leaves the job’s own prints alone', async () => {
  const { id, job } = await list([
    ['1', 'a', ''],
    ['2', 'b', ''],
    ['3', 'c', ''],
  ]);
  const [one, , three] = await records(id);
  const run = await quickPrint(
    t.db,
    job,
    { stamp: 'stamp-1', records: [one!.id, three!.id] },
    'test',
  );
  await work();
  expect(await viewRun(t.db, run)).toMatchObject({
    name: 'Codes with titles, 2 records',
    state: 'done',
    pieces: 2,
    read: 2,
    failed: 0,
  });
  const { rows } = await ledgerRows(t.db, job, { ...view(), offset: 0, limit: 10 });
  expect(rows.map((r) => r.page)).toEqual([null, null, null]);
});

test('a list to type into starts with its columns, its stamp and one blank record; its blank sheet is text throughout', async () => {
  const job = await startTypedList(t.db, { name: 'Gate', purpose: 'contact' }, 'test');
  const seen = await viewJob(t.db, job);
  expect(seen.list.columns.map((c) => c.name).slice(0, 4)).toEqual([
    'No',
    'Name',
    'First name',
    'Last name',
  ]);
  expect(seen.document.stamps[0]!.does).toBe('contact');
  expect(seen.counts).toMatchObject({ all: 1, out: 1 });
  const book = readBook('blank.xlsx', await blankSheet({ purpose: 'wifi', as: 'xlsx' }));
  expect(book.sheets[0]!.rows).toEqual([['No', 'Name', 'Network', 'Password']]);
  expect(Buffer.from(await blankSheet({ purpose: 'page', as: 'csv' })).toString()).toBe(
    '\ufeffNo,Name,Page\r\n',
  );
});

test('looks are kept under a name, the newest in force', async () => {
  const { job } = await list([['1', 'a', '']]);
  const { look } = (await viewJob(t.db, job)).document.stamps[0]!;
  await keep(t.db, { kind: 'look', name: 'Badge', document: look }, 'test');
  await keep(t.db, { kind: 'look', name: 'Badge', document: { ...look, sizeMm: 31 } }, 'test');
  expect((await listKept(t.db, 'look')).map((k) => [k.name, k.document.sizeMm])).toEqual([
    ['Badge', 31],
  ]);
});

test('ten thousand records are judged and worked out in the background, and an edit meanwhile is not lost', async () => {
  const { id, job } = await list(Array.from({ length: 10_000 }, (_, i) => [`T-${i}`, `n${i}`, '']));
  await work();
  const [first] = await records(id);
  const tag: Worked = {
    source: { kind: 'join', parts: [{ kind: 'column', column: 'c1' }] },
    steps: [{ kind: 'case', to: 'small letters' }],
  };
  const w = await keepWorkedColumn(t.db, id, { name: 'Low', worked: tag }, 'test');
  expect((await viewJob(t.db, job)).list.working).toBe(10_000);
  const working = work();
  await editCells(t.db, id, [{ record: first!.id, column: 'c1', value: 'X-1' }], 'test');
  await working;
  await work();
  const rows = await records(id);
  expect(rows[0]!.values[w]).toBe('x-1');
  expect(rows.at(-1)?.values[w]).toBe('t-9999');
  expect((await viewJob(t.db, job)).counts).toMatchObject({ all: 10_000, ready: 10_000 });
});
