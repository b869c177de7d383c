import { rowsQuerySchema } from '../../src/contract';
import { runOnce } from 'graphile-worker';
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { isSealed } from '../../src/core/records/sealed';
import { changeColumn, keepWorkedColumn } from '../../src/server/lists/columns';
import { editCells, removeRecords } from '../../src/server/lists/edits';
import { addJob, changeJob, ledgerRows, viewJob } from '../../src/server/jobs/jobs';
import { rejudgeList } from '../../src/server/judging/judge';
import { follow } from '../../src/server/platform/news';
import { proofOf } from '../../src/server/runs/proof';
import { Refusal } from '../../src/server/platform/refusal';
import { revise, revisionRows } from '../../src/server/lists/revisions';
import { renewJob, renewList, writeRecords } from '../../src/server/lists/working';
import { cancelRun, startRun } from '../../src/server/runs/runs';
import { viewRun } from '../../src/server/runs/run-views';
import { sealedSymbols } from '../../src/server/jobs/sealed-symbol';
import { stepJob } from '../../src/server/jobs/steps';
import { assembleRun, runChunk } from '../../src/server/runs/making';
import { hashOf } from '../../src/core/readback/readback';
import { contentOf, type Stamp } from '../../src/core/payload/stamp';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { runsIn } from '../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const { job, work } = runsIn(() => t);

let id: number;
let list: number;
let ids: number[];
beforeEach(async () => {
  const made = await job(
    ['No', 'Name', 'Token'],
    ['key', 'name', 'text'],
    [
      ['1', 'Wren', 'tok-wren'],
      ['2', 'Tam', 'tok-tam'],
      ['3', 'Ines', ''],
    ],
  );
  [id, list] = [made.id, made.list];
  ids = (
    await t.db
      .selectFrom('records')
      .select('id')
      .where('list_id', '=', list)
      .orderBy('position')
      .execute()
  ).map((r) => r.id);
});
const value = async (record: number, column: string) =>
  (
    await t.db
      .selectFrom('records')
      .select('values')
      .where('id', '=', record)
      .executeTakeFirstOrThrow()
  ).values[column];
const refused = (work: Promise<unknown>): Promise<Refusal> =>
  work.then(
    () => {
      throw new Error('was not refused');
    },
    (error: unknown) => {
      if (error instanceof Refusal) return error;
      throw error;
    },
  );

describe('two windows', () => {
  test('that change one cell: the later is told both values, and nothing is overwritten', async () => {
    const edit = (text: string, from: string) =>
      editCells(t.db, list, [{ record: ids[0]!, column: 'c2', value: text, from }], 'test');
    await edit('Wren Fell', 'Wren');
    const clash = await refused(edit('Wrenna', 'Wren'));
    expect([clash.status, clash.message]).toEqual([
      409,
      'Someone changed Name of Wren Fell in another window: it now says “Wren Fell”, and you entered “Wrenna”.',
    ]);
    expect(clash.details).toMatchObject({ clashes: [{ here: 'Wren Fell', yours: 'Wrenna' }] });
    expect(await value(ids[0]!, 'c2')).toBe('Wren Fell');
    // the same change twice is not a clash, and a person who has seen the new value may change it
    await edit('Wren Fell', 'Wren');
    await edit('Wrenna', 'Wren Fell');
    expect(await value(ids[0]!, 'c2')).toBe('Wrenna');
  });
  test('of a block that is pasted all of it waits when one cell clashes', async () => {
    await editCells(
      t.db,
      list,
      [{ record: ids[1]!, column: 'c2', value: 'Tamsin', from: 'Tam' }],
      'test',
    );
    const both = [
      { record: ids[0]!, column: 'c2', value: 'A', from: 'Wren' },
      { record: ids[1]!, column: 'c2', value: 'B', from: 'Tam' },
    ];
    await refused(editCells(t.db, list, both, 'test'));
    expect([await value(ids[0]!, 'c2'), await value(ids[1]!, 'c2')]).toEqual(['Wren', 'Tamsin']);
  });
  test('a record that was taken out elsewhere: what was typed is told', async () => {
    await removeRecords(t.db, list, [ids[0]!], 'test');
    const gone = await refused(
      editCells(
        t.db,
        list,
        [{ record: ids[0]!, column: 'c2', value: 'Wrenna', from: 'Wren' }],
        'test',
      ),
    );
    expect(gone.message).toMatch(/deleted.*“Wrenna”/);
  });
  test('a worked column and a name that were changed elsewhere', async () => {
    const parts = (text: string) => ({
      source: {
        kind: 'join' as const,
        parts: [
          { kind: 'column' as const, column: 'c1' },
          { kind: 'text' as const, text },
        ],
      },
      steps: [],
    });
    const column = await keepWorkedColumn(t.db, list, { name: 'Tag', worked: parts('a') }, 'test');
    const was = { name: 'Tag', worked: parts('a') };
    await keepWorkedColumn(t.db, list, { id: column, name: 'Tag', worked: parts('b'), was }, 'one');
    expect(
      (
        await refused(
          keepWorkedColumn(t.db, list, { id: column, name: 'Tag', worked: parts('c'), was }, 'two'),
        )
      ).status,
    ).toBe(409);
    expect(await value(ids[0]!, column)).toBe('1b');
    await changeColumn(
      t.db,
      list,
      { does: 'rename', id: 'c2', name: 'Person', was: 'Name' },
      'one',
    );
    expect(
      (
        await refused(
          changeColumn(
            t.db,
            list,
            { does: 'rename', id: 'c2', name: 'Steward', was: 'Name' },
            'two',
          ),
        )
      ).message,
    ).toMatch(/Person.*Steward/);
  });
  test('hear of each other’s changes, of the job, its list and its runs', async () => {
    const told: string[] = [];
    const stop = await follow((what) => told.push(what), t.url);
    const heard = async (what: string, work: () => Promise<unknown>) => {
      told.length = 0;
      await work();
      await expect.poll(() => told).toContain(what);
    };
    await heard(`list:${list}`, () =>
      editCells(t.db, list, [{ record: ids[0]!, column: 'c2', value: 'X' }], 'test'),
    );
    const { version, document } = await viewJob(t.db, id);
    await heard(`job:${id}`, () =>
      changeJob(
        t.db,
        id,
        { version, document: { ...document, options: { ...document.options, copies: 2 } } },
        'test',
      ),
    );
    await heard(`job:${id}`, () => startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test'));
    stop();
    await work();
  });
});

describe('undo', () => {
  test('follows the order of what was done, to the list and to the job, however often the page was opened since', async () => {
    const copies = async () => (await viewJob(t.db, id)).document.options.copies;
    const setCopies = async (n: number) => {
      const { version, document } = await viewJob(t.db, id);
      await changeJob(
        t.db,
        id,
        { version, document: { ...document, options: { ...document.options, copies: n } } },
        'test',
      );
    };
    const edit = (text: string) =>
      editCells(t.db, list, [{ record: ids[0]!, column: 'c2', value: text }], 'test');
    const state = async () => [await copies(), await value(ids[0]!, 'c2')];
    await setCopies(2);
    await edit('A');
    await setCopies(3);
    await edit('B');
    expect(await state()).toEqual([3, 'B']);
    const back = () => stepJob(t.db, id, 'undo', 'test');
    const again = () => stepJob(t.db, id, 'redo', 'test');
    const states: unknown[] = [];
    for (let i = 0; i < 4; i++) states.push((await back(), await state()));
    expect(states).toEqual([
      [3, 'A'],
      [2, 'A'],
      [2, 'Wren'],
      [1, 'Wren'],
    ]);
    expect(await back()).toBeUndefined();
    expect((await viewJob(t.db, id)).canUndo).toBe(false);
    states.length = 0;
    for (let i = 0; i < 4; i++) states.push((await again(), await state()));
    expect(states).toEqual([
      [2, 'Wren'],
      [2, 'A'],
      [3, 'A'],
      [3, 'B'],
    ]);
    // a new change removes the redo
    await back();
    await setCopies(5);
    expect((await viewJob(t.db, id)).canRedo).toBe(false);
    expect(await again()).toBeUndefined();
  });

  test('steps taken at the same moment are taken one after the other, and none is lost', async () => {
    const copies = async () => (await viewJob(t.db, id)).document.options.copies;
    for (const n of [1, 2, 3, 4, 5]) {
      const { version, document } = await viewJob(t.db, id);
      const options = { ...document.options, copies: n };
      await changeJob(t.db, id, { version, document: { ...document, options } }, 'test');
    }
    const back = () => stepJob(t.db, id, 'undo', 'test');
    await Promise.all([back(), back(), back(), back()]);
    expect(await copies()).toBe(1);
    await Promise.all([1, 2, 3].map(() => stepJob(t.db, id, 'redo', 'test')));
    expect(await copies()).toBe(4);
  });

  test('stamps changed from two jobs of a list at the same moment: one change holds, the other is told', async () => {
    const other = await addJob(t.db, list, { name: 'Another of them' }, 'test');
    for (let round = 0; round < 5; round++) {
      const changes = await Promise.all(
        [id, other].map(async (job) => {
          const { version, document } = await viewJob(t.db, job);
          const stamps = document.stamps.map((s) => ({ ...s, name: `${s.name} ${round} ${job}` }));
          return () => changeJob(t.db, job, { version, document: { ...document, stamps } }, 'test');
        }),
      );
      const ends = await Promise.allSettled(changes.map((change) => change()));
      expect(ends.filter((end) => end.status === 'fulfilled')).toHaveLength(1);
      for (const end of ends)
        if (end.status === 'rejected') expect(String(end.reason)).toMatch(/another window/);
    }
  });
});

describe('a run that is stopped', () => {
  test('adds nothing to its count afterwards, and files neither', async () => {
    const run = await startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test');
    await t.db.updateTable('runs').set({ state: 'running' }).where('id', '=', run).execute();
    await cancelRun(t.db, run);
    await runChunk(t.db, run, 0);
    await assembleRun(t.db, run);
    const view = await viewRun(t.db, run);
    expect([view.state, view.made, view.codes, view.files]).toEqual(['cancelled', 0, 0, []]);
    await work();
  });
  test('chunks and assembling that two workers do at once are done once', async () => {
    const run = await startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test');
    await Promise.all([runChunk(t.db, run, 0), runChunk(t.db, run, 0)]);
    await Promise.all([assembleRun(t.db, run), assembleRun(t.db, run)]);
    const view = await viewRun(t.db, run);
    expect([view.state, view.made, view.codes, view.files.length]).toEqual(['done', 3, 3, 2]);
    await work();
  });
});

describe('secrets', () => {
  const rows = (reveal?: string) =>
    ledgerRows(t.db, id, rowsQuerySchema.parse({ ...(reveal ? { reveal } : {}) }));
  const secrets = ['tok-wren', 'tok-tam'];
  const lies = (told: unknown) => secrets.filter((s) => JSON.stringify(told).includes(s));
  beforeEach(async () => {
    await keepWorkedColumn(
      t.db,
      list,
      {
        name: 'Pass',
        worked: {
          source: {
            kind: 'join',
            parts: [
              { kind: 'text', text: 'p-' },
              { kind: 'column', column: 'c3' },
            ],
          },
          steps: [],
        },
      },
      'test',
    );
    await rejudgeList(t.db, list);
  });
  test('leave the server only where someone asks to see them, and so does what is worked out from them', async () => {
    const { rows: shown } = await rows();
    expect(lies(shown)).toEqual([]);
    expect(shown.map((r) => isSealed(r.values.c3!))).toEqual([true, true, false]);
    expect(shown[2]!.values.c3).toBe('');
    expect(lies((await rows('c3')).rows)).toEqual(secrets);
    expect((await rows('c3')).rows[0]!.values.c3).toBe('tok-wren');
    expect(lies(await proofOf(t.db, id, { name: 'x', which: 'with-code' }, 0))).toEqual([]);
  });
  test('stay out of revisions, and of what is said when they clash', async () => {
    const [one] = (await rows()).rows;
    await editCells(
      t.db,
      list,
      [{ record: ids[0]!, column: 'c3', value: 'tok-new', from: one!.values.c3 }],
      'test',
    );
    secrets.push('tok-new');
    const { revision } = await t.db
      .selectFrom('lists')
      .select('revision')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    const told = await revisionRows(t.db, list, revision, 0);
    expect(told.rows[0]!.cells.map((c) => c.column)).toContain('Token');
    expect(lies(told)).toEqual([]);
    // the earlier token is no longer that of the cell
    const clash = await refused(
      editCells(
        t.db,
        list,
        [{ record: ids[0]!, column: 'c3', value: 'mine', from: one!.values.c3 }],
        'test',
      ),
    );
    expect(lies([clash.message, clash.details])).toEqual([]);
  });
  test('are drawn as a code without being told, and a reading of it is compared by its hash', async () => {
    const { document } = await viewJob(t.db, id);
    const sealedSymbol = async (record: number, of: Stamp) =>
      (await sealedSymbols(t.db, [record], of, { id: 'test', right: 'editor' }))[record];
    const stamp = {
      ...document.stamps[0]!,
      parts: [
        { kind: 'text' as const, text: 'x/' },
        { kind: 'column' as const, column: 'c3' },
      ],
    };
    const made = await sealedSymbol(ids[0]!, stamp);
    expect(made!.symbol?.payload).toBe('x/••••••');
    expect(made!.symbol?.readingHash).toBe(hashOf('x/tok-wren'));
    expect(lies(made)).toEqual([]);
    const blank = await sealedSymbol(ids[2]!, stamp);
    expect(blank!.symbol).toBeNull();
    const misfit = await sealedSymbol(ids[0]!, { ...stamp, symbology: 'ean-13' });
    expect(lies(misfit)).toEqual([]);
    expect(contentOf(stamp, { c3: 'tok-wren' })).toEqual({ state: 'said', payload: 'x/tok-wren' });
  });
});

describe('a process that dies between a change and its verdicts', () => {
  const due = () => sql`update graphile_worker._private_jobs set run_at = now()`.execute(t.db);
  const renewOnce = () =>
    runOnce({
      pgPool: t.pool,
      taskList: {
        'list.renew': async (p) => renewList(t.db, (p as { list: number }).list),
        'job.renew': async (p) => renewJob(t.db, (p as { job: number }).job),
        'list.judge': () => undefined,
      },
    });
  /** Tasks of one list wait for one another, so one round does not do them all. */
  const renew = async () => {
    for (let i = 0; i < 6; i++) {
      await due();
      await renewOnce();
    }
  };
  /** What an edit commits, and nothing of what follows it. */
  const onlyCommitted = (column: string, text: string) =>
    t.db.transaction().execute(async (tx) => {
      const { columns } = await tx
        .selectFrom('lists')
        .select('columns')
        .where('id', '=', list)
        .executeTakeFirstOrThrow();
      const row = await tx
        .selectFrom('records')
        .selectAll()
        .where('id', '=', ids[0]!)
        .executeTakeFirstOrThrow();
      await writeRecords(tx, list, columns, [{ ...row, next: { [column]: text } }], true);
      await revise(tx, list, 'edit', 'an edit', 'test', [
        {
          record: row.id,
          change: 'changed',
          before: { [column]: row.values[column]! },
          after: { [column]: text },
        },
      ]);
    });
  const overall = async () =>
    (
      await t.db
        .selectFrom('job_rows')
        .select(['record_id', 'overall'])
        .where('job_id', '=', id)
        .orderBy('position')
        .execute()
    ).map((r) => r.overall);

  test('is made good by the queue; until then no run begins on what is not true any more', async () => {
    await renew();
    expect((await viewJob(t.db, id)).judging).toBe(0);
    await onlyCommitted('c1', '2');
    expect(await overall()).toEqual(['ready', 'ready', 'ready']);
    expect((await viewJob(t.db, id)).judging).toBeGreaterThan(0);
    await expect(startRun(t.db, id, { name: 'r', which: 'ready' }, 'test')).rejects.toThrow(
      'still being checked',
    );
    await renew();
    expect((await viewJob(t.db, id)).judging).toBe(0);
    // two records have one key now
    expect(await overall()).toEqual(['look', 'look', 'ready']);
  });
  test('a run that is asked for while records are checked begins when they are', async () => {
    await onlyCommitted('c1', '2');
    const asked = startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test');
    await renew();
    expect(await asked).toBeGreaterThan(0);
  });
  test('an edit that is judged at once leaves a list fresh only where all before it was judged', async () => {
    await onlyCommitted('c1', '2');
    await editCells(t.db, list, [{ record: ids[2]!, column: 'c2', value: 'Inés' }], 'test');
    expect((await viewJob(t.db, id)).judging).toBeGreaterThan(0);
    await renew();
    expect((await viewJob(t.db, id)).judging).toBe(0);
    await editCells(t.db, list, [{ record: ids[2]!, column: 'c2', value: 'Ines' }], 'test');
    expect((await viewJob(t.db, id)).judging).toBe(0);
  });
  test('look-ups follow undoing and re-reading too, and a chain of them; a ring comes to rest', async () => {
    const look = (of: number, by: string, give: string) => ({
      source: { kind: 'join' as const, parts: [{ kind: 'column' as const, column: 'c1' }] },
      steps: [{ kind: 'lookup' as const, list: of, by, give }],
    });
    const second = await job(['No'], ['key'], [['1']], 'Second');
    const third = await job(['No'], ['key'], [['1']], 'Third');
    const w2 = await keepWorkedColumn(
      t.db,
      second.list,
      { name: 'Who', worked: look(list, 'c1', 'c2') },
      'test',
    );
    const w3 = await keepWorkedColumn(
      t.db,
      third.list,
      { name: 'Who', worked: look(second.list, 'c1', w2) },
      'test',
    );
    await keepWorkedColumn(
      t.db,
      list,
      { name: 'Back', worked: look(third.list, 'c1', w3) },
      'test',
    );
    const said = async () => {
      await renew();
      const of = async (l: number, c: string) =>
        (
          await t.db
            .selectFrom('records')
            .select('values')
            .where('list_id', '=', l)
            .orderBy('position')
            .executeTakeFirstOrThrow()
        ).values[c];
      return [await of(second.list, w2), await of(third.list, w3)];
    };
    expect(await said()).toEqual(['Wren', 'Wren']);
    await editCells(t.db, list, [{ record: ids[0]!, column: 'c2', value: 'Wrenna' }], 'test');
    expect(await said()).toEqual(['Wrenna', 'Wrenna']);
    await stepJob(t.db, id, 'undo', 'test');
    expect(await said()).toEqual(['Wren', 'Wren']);
    await removeRecords(t.db, list, [ids[0]!], 'test');
    expect(await said()).toEqual(['', '']);
    const { rows } = await sql<{
      n: number;
    }>`select count(*)::int as n from graphile_worker.jobs where task_identifier = 'list.renew'`.execute(
      t.db,
    );
    expect(rows[0]!.n).toBe(0);
  });
});
