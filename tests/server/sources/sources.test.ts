import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { createServer as createSocket, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { runOnce, type TaskList } from 'graphile-worker';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, onTestFinished, test, vi } from 'vitest';
import { askAddress } from '../../../src/server/platform/outbound';
import { demoGarden } from '../../../demo/garden';
import { askDoors, doorReport, startAsking } from '../../../src/server/links/door';
import type { SaidSame } from '../../../src/contract';
import { editCells, removeRecords } from '../../../src/server/lists/edits';
import { viewJob } from '../../../src/server/jobs/jobs';
import { judgeListNow } from '../../../src/server/judging/judge';
import { listRevisions, stepBack } from '../../../src/server/lists/revisions';
import { seal, unseal } from '../../../src/server/platform/sealed';
import { rereadRows } from '../../../src/server/sources/comparison';
import { keepConnection, readQuery, tablesOf } from '../../../src/server/sources/connections';
import { askIntake, readAgain } from '../../../src/server/sources/reread';
import { trayEntries, trayFile } from '../../../src/server/sources/tray';
import { watchTray } from '../../../src/server/sources/tray-watch';
import { enqueue } from '../../../src/server/platform/queue';
import { makeChunkCard } from '../../../src/server/runs/cards';
import { readIntakeCard } from '../../../src/server/sources/cards';
import { cancelRun, startRun } from '../../../src/server/runs/runs';
import { waitsBehind } from '../../../src/server/runs/waiting';
import { assembleRun, runChunk } from '../../../src/server/runs/making';
import { bytesOfIntake } from '../../../src/server/sources/files/state';
import { readIntake, takeIntake } from '../../../src/server/sources/intake';
import { createList } from '../../../src/server/lists/lists';
import { workOutNow } from '../../../src/server/lists/working';
import { testDatabase, type TestDatabase } from '../../helpers/database';

let t: TestDatabase;
let tray: string;
beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  tray = mkdtempSync(join(tmpdir(), 'tray-'));
  process.env.HAND_STAMP_TRAY = tray;
  t = await testDatabase();
});
afterAll(async () => {
  rmSync(tray, { recursive: true, force: true });
  await t.close();
});

const tasks: TaskList = {
  'intake.read': async (p) => readIntake(t.db, (p as { intake: number }).intake),
  'intake.take': async (p) => takeIntake(t.db, (p as { intake: number }).intake),
  'list.judge': async (p) => judgeListNow(t.db, (p as { list: number }).list),
  'list.work': async (p) => workOutNow(t.db, (p as { list: number }).list),
  'run.chunk': async (p) =>
    runChunk(t.db, (p as { run: number }).run, (p as { chunk: number }).chunk),
  'run.assemble': async (p) => assembleRun(t.db, (p as { run: number }).run),
  'door.ask': async (p) =>
    askDoors(t.db, (p as { job: number }).job, (p as { stamp: string }).stamp),
};
const work = () => runOnce({ pgPool: t.pool, taskList: tasks });
const intake = (id: number) =>
  t.db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
const records = (list: number) =>
  t.db
    .selectFrom('records')
    .select(['id', 'values', 'hand'])
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();

/** Reads and takes an intake as a coordinator does, with the headings in the first row. */
async function take(id: number, more: object = {}): Promise<{ job: number; list: number }> {
  await work();
  const { preview, error } = await intake(id);
  expect(error).toBeNull();
  const wanted = {
    sheet: 0,
    headerRow: 0,
    roles: preview!.sheets[0]!.roles,
    name: 'Taken',
    ...more,
  };
  await t.db
    .updateTable('intakes')
    .set({ state: 'taking', take: JSON.stringify(wanted) })
    .where('id', '=', id)
    .execute();
  await takeIntake(t.db, id);
  await work();
  const { job_id } = await intake(id);
  const { list_id } = await t.db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', job_id!)
    .executeTakeFirstOrThrow();
  return { job: job_id!, list: list_id };
}
async function takeAgain(
  id: number,
  how: { clashes: 'here' | 'there'; gone: 'out' | 'stay' },
): Promise<void> {
  await t.db
    .updateTable('intakes')
    .set({ state: 'taking', take: JSON.stringify(how) })
    .where('id', '=', id)
    .execute();
  await takeIntake(t.db, id);
  await work();
}
const file = (text: string, list?: number, name = 'tools.csv') =>
  askIntake(t.db, {
    name,
    bytes: Buffer.from(text),
    origin: { kind: 'file', name, headerRow: 0 },
    list,
    actor: 'test',
  });

describe('what is the same under another name or in another form', () => {
  const say = async (id: number, same: SaidSame) => {
    await t.db
      .updateTable('intakes')
      .set({ state: 'waiting', same: JSON.stringify(same) })
      .where('id', '=', id)
      .execute();
    await readIntake(t.db, id);
    return (await intake(id)).told!;
  };
  test('a renamed heading is offered by its values; edits and prints stay', async () => {
    const { list } = await take(await file('Tag,Item,Where\nT-1,Spade,Shed\nT-2,Fork,Barn\n'));
    const [one] = await records(list);
    await editCells(t.db, list, [{ record: one!.id, column: 'c3', value: 'Lent' }], 'test');
    const id = await file('Tag,Item,Place\nT-1,Spade,Shed\nT-2,Garden fork,Barn\n', list);
    await work();
    const { told } = await intake(id);
    expect(told).toMatchObject({
      asks: [{ kind: 'heading', column: 'c3', name: 'Where', heading: 'Place', records: 2 }],
      newColumns: ['Place'],
    });
    expect(await say(id, { headings: { Place: 'c3' }, keys: false })).toMatchObject({
      changed: 1,
      added: 0,
      gone: 0,
      newColumns: [],
      missingColumns: [],
    });
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect((await records(list)).map((r) => [r.id, r.values.c2, r.values.c3])).toEqual([
      [one!.id, 'Spade', 'Lent'],
      [expect.any(Number), 'Garden fork', 'Barn'],
    ]);
    const { columns } = await t.db
      .selectFrom('lists')
      .select('columns')
      .where('id', '=', list)
      .executeTakeFirstOrThrow();
    expect(columns[2]).toMatchObject({ name: 'Where', source: 'Place' });
    // from then on it is known
    const again = await file('Tag,Item,Place\nT-1,Spade,Shed\nT-2,Garden fork,Barn\n', list);
    await work();
    expect((await intake(again)).state).toBe('taken');
  });
  test('a renamed key can be told, and nothing is taken before', async () => {
    const { list } = await take(await file('Tag,Item\nT-1,Spade\nT-2,Fork\n'));
    const before = await records(list);
    const id = await file('Number,Item\nT-1,Spade\nT-2,Long fork\n', list);
    await work();
    expect((await intake(id)).told).toMatchObject({
      blocked: expect.stringContaining('Tag is the key'),
      added: 0,
      gone: 0,
    });
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect(await intake(id)).toMatchObject({
      state: 'failed',
      error: expect.stringContaining('Choose that column first'),
    });
    expect(await records(list)).toEqual(before);
    expect(await say(id, { headings: { Number: 'c1' }, keys: false })).toMatchObject({
      changed: 1,
      added: 0,
      gone: 0,
    });
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect((await records(list)).map((r) => [r.id, r.values.c2])).toEqual([
      [before[0]!.id, 'Spade'],
      [before[1]!.id, 'Long fork'],
    ]);
  });
  test('keys that lost their zeros are the same records when a person says so', async () => {
    const { list } = await take(await file('Tag,Item\n0001,Spade\n0002,Fork\n'), {
      roles: ['key', 'name'],
    });
    const before = await records(list);
    const id = await file('Tag,Item\n1,Spade\n2,Fork\n', list);
    await work();
    expect((await intake(id)).told).toMatchObject({
      added: 2,
      gone: 2,
      asks: [{ kind: 'keys', here: '0001', there: '1', records: 2 }],
    });
    expect(await say(id, { headings: {}, keys: true })).toMatchObject({
      added: 0,
      gone: 0,
      changed: 2,
    });
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect((await records(list)).map((r) => [r.id, r.values.c1])).toEqual(
      before.map((r, i) => [r.id, String(i + 1)]),
    );
  });
});

describe('what was doubtful when it was read', () => {
  const problems = async (job: number) =>
    (await viewJob(t.db, job)).problems.map((p) => `${p.kind} ${p.records}`);
  test('stays with the record until the value changes, through undo, removal and reading again', async () => {
    const bytes = readFileSync('tests/fixtures/odd/dates-and-digits.xlsx');
    const sent = (list?: number) =>
      askIntake(t.db, {
        name: 'd.xlsx',
        bytes,
        origin: { kind: 'file', name: 'd.xlsx', headerRow: 0 },
        list,
        actor: 'test',
      });
    const { job, list } = await take(await sent(), { roles: ['key', 'text', 'text'] });
    const [one] = await records(list);
    expect(await problems(job)).toEqual(['rounded 1']);
    await editCells(
      t.db,
      list,
      [{ record: one!.id, column: 'c3', value: '12345678901234567' }],
      'test',
    );
    expect(await problems(job)).toEqual([]);
    await stepBack(t.db, list, 'undo', 'test');
    expect(await problems(job)).toEqual(['rounded 1']);
    await removeRecords(t.db, list, [one!.id], 'test');
    expect(await problems(job)).toEqual([]);
    await stepBack(t.db, list, 'undo', 'test');
    expect(await problems(job)).toEqual(['rounded 1']);
  });
});

test('the bytes of a file come back part by part, every one; of one that is gone there are none', async () => {
  const bytes = Buffer.from(
    Uint8Array.from({ length: 2_500_001 }, (_, i) => (i * 31 + (i >> 8)) % 256),
  );
  const name = 'large.bin';
  const id = await askIntake(t.db, {
    ...{ name, bytes, actor: 'test' },
    origin: { kind: 'file', name, headerRow: 0 },
  });
  expect((await bytesOfIntake(t.db, id)).equals(bytes)).toBe(true);
  await t.db.deleteFrom('intakes').where('id', '=', id).execute();
  expect(await bytesOfIntake(t.db, id)).toHaveLength(0);
  // its task finds nothing to do, and is none that another test would count
  await work();
});

test('a list of long cells, put away in many batches, keeps every cell in its place', async () => {
  const rows = Array.from({ length: 700 }, (_, r) => [
    `T-${r}`,
    `${r} `.repeat(700),
    r % 3 ? '' : 'salt "marsh"',
  ]);
  const { id } = await createList(t.db, {
    ...{ name: 'Long cells', source: 'test', note: '', actor: 'test', rows },
    ...{ headings: ['Tag', 'Text', 'Note'], roles: ['key', 'text', 'text'] },
  });
  const kept = await t.db
    .selectFrom('records')
    .select(['position', 'values'])
    .where('list_id', '=', id)
    .orderBy('position')
    .execute();
  expect(kept.map((r) => r.position)).toEqual(rows.map((_, r) => r));
  expect(kept.map((r) => [r.values.c1, r.values.c2, r.values.c3])).toEqual(rows);
});

test('a file is read before the pieces of a run that were asked for earlier', async () => {
  const done: string[] = [];
  await enqueue(t.db, makeChunkCard, { run: 1, chunk: 0 });
  await enqueue(t.db, makeChunkCard, { run: 1, chunk: 1 });
  await enqueue(t.db, readIntakeCard, { intake: 1 });
  const note = (name: string) => async () => void done.push(name);
  await runOnce({
    pgPool: t.pool,
    taskList: { 'run.chunk': note('run'), 'intake.read': note('file') },
  });
  expect(done).toEqual(['file', 'run', 'run']);
});

test('what a file waits behind is said: a run with the time it needs, other files', async () => {
  const { job } = await take(await file('Tag,Item\n1,a\n2,b\n'));
  const waiting = await file('Tag\n1\n');
  expect(await waitsBehind(t.db, waiting)).toBeUndefined();
  const run = await startRun(t.db, job, { name: 'long', which: 'with-code' }, 'test');
  await t.db
    .updateTable('runs')
    .set({
      state: 'running',
      pieces: 500,
      pieces_made: 100,
      started_at: new Date(Date.now() - 10_000),
    })
    .where('id', '=', run)
    .execute();
  expect(await waitsBehind(t.db, waiting)).toMatch(/^behind a run, about 4\d s$/);
  const second = await file('Tag\n2\n');
  expect(await waitsBehind(t.db, second)).toBe('behind 1 other file');
  await cancelRun(t.db, run);
  await work();
  expect(await waitsBehind(t.db, second)).toBeUndefined();
});

describe('a file that is read again', () => {
  test('says what was added, changed and gone before it is taken; hand edits and prints survive; it can be undone', async () => {
    const { job, list } = await take(
      await file('Tag,Item,Where\nT-1,Spade,Shed\nT-2,Fork,Shed\nT-3,Rake,Barn\n'),
    );
    const [one, two, three] = await records(list);
    await t.db
      .updateTable('job_rows')
      .set({ run_id: 5, run_mark: 'ready', run_page: 1, run_place: 1 })
      .where('record_id', '=', two!.id)
      .execute();
    await editCells(
      t.db,
      list,
      [
        { record: one!.id, column: 'c2', value: 'Border spade' },
        { record: two!.id, column: 'c3', value: 'Lent' },
      ],
      'test',
    );
    const id = await file(
      'Tag,Item,Where,Bought\nT-2,Garden fork,Glasshouse,2025\nT-1,Spade,Shed,\nT-4,Hoe,Shed,2026\n',
      list,
    );
    await work();
    expect((await intake(id)).told).toMatchObject({
      added: 1,
      changed: 1,
      gone: 1,
      unchanged: 1,
      clashes: 1,
      newColumns: ['Bought'],
    });
    expect((await viewJob(t.db, job)).list.reread).toBe(id);
    const rows = await rereadRows(t.db, id, 0, undefined);
    expect(
      rows.map((r) => [
        r.change,
        r.key,
        r.cells.map((c) => [c.column, c.before, c.after, c.clash ?? false]),
      ]),
    ).toEqual([
      [
        'changed',
        'T-2',
        [
          ['Item', 'Fork', 'Garden fork', false],
          ['Bought', '', '2025', false],
          ['Where', 'Lent', 'Glasshouse', true],
        ],
      ],
      [
        'added',
        'T-4',
        [
          ['Tag', '', 'T-4', false],
          ['Item', '', 'Hoe', false],
          ['Where', '', 'Shed', false],
          ['Bought', '', '2026', false],
        ],
      ],
      [
        'gone',
        'T-3',
        [
          ['Tag', 'T-3', '', false],
          ['Item', 'Rake', '', false],
          ['Where', 'Barn', '', false],
        ],
      ],
    ]);
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect(
      (await records(list)).map((r) => [
        r.id,
        ...['c1', 'c2', 'c3', 'c4'].map((c) => r.values[c] ?? ''),
      ]),
    ).toEqual([
      [one!.id, 'T-1', 'Border spade', 'Shed', ''],
      [two!.id, 'T-2', 'Garden fork', 'Lent', '2025'],
      [expect.any(Number), 'T-4', 'Hoe', 'Shed', '2026'],
    ]);
    const printed = await t.db
      .selectFrom('job_rows')
      .select('run_id')
      .where('record_id', '=', two!.id)
      .executeTakeFirstOrThrow();
    expect(printed.run_id).toBe(5);
    // the same again is nothing new, clash and all
    const same = await file(
      'Tag,Item,Where,Bought\nT-2,Garden fork,Glasshouse,2025\nT-1,Spade,Shed,\nT-4,Hoe,Shed,2026\n',
      list,
    );
    await work();
    expect(await intake(same)).toMatchObject({
      state: 'taken',
      told: { added: 0, changed: 0, gone: 0, clashes: 0 },
    });
    await stepBack(t.db, list, 'undo', 'test');
    expect((await records(list)).map((r) => [r.id, r.values.c2])).toEqual([
      [one!.id, 'Border spade'],
      [two!.id, 'Fork'],
      [three!.id, 'Rake'],
    ]);
    expect((await viewJob(t.db, job)).list.columns.map((c) => c.name)).toEqual([
      'Tag',
      'Item',
      'Where',
    ]);
    expect((await listRevisions(t.db, list)).map((r) => [r.note, r.undone])[0]).toEqual([
      'Updated from tools.csv: 1 added, 1 changed, 1 gone',
      true,
    ]);
  });

  test('the source’s word is taken in a clash, and records that are gone there may stay', async () => {
    const { list } = await take(await file('Tag,Item\nT-1,Spade\nT-2,Fork\n'));
    const [one] = await records(list);
    await editCells(t.db, list, [{ record: one!.id, column: 'c2', value: 'Mine' }], 'test');
    const id = await file('Tag,Item\nT-1,Theirs\n', list);
    await work();
    await takeAgain(id, { clashes: 'there', gone: 'stay' });
    expect((await records(list)).map((r) => [r.values.c2, r.hand])).toEqual([
      ['Theirs', null],
      ['Fork', null],
    ]);
    await stepBack(t.db, list, 'undo', 'test');
    expect((await records(list)).map((r) => r.values.c2)).toEqual(['Mine', 'Fork']);
  });

  test('another file is refused in words, and a list changed meanwhile is compared anew', async () => {
    const { list } = await take(await file('Tag,Item\nT-1,Spade\n'));
    const other = await file('Colour,Size\nred,1\n', list);
    await work();
    expect((await intake(other)).error).toMatch(/The key column Tag is not in the source/);
    const id = await file('Tag,Item\nT-1,Fork\n', list);
    await work();
    const [one] = await records(list);
    await editCells(
      t.db,
      list,
      [
        { record: one!.id, column: 'c1', value: 'T-9' },
        { record: one!.id, column: 'c2', value: 'Fork' },
      ],
      'test',
    );
    await takeAgain(id, { clashes: 'here', gone: 'out' });
    expect((await intake(id)).error).toMatch(/changed while you reviewed this/);
  });
});

describe('a database', () => {
  let garden: number;
  beforeAll(async () => {
    garden = await demoGarden(t.db, t.url);
  });

  test('is read as text by a user who may only read; its table is followed row by row', async () => {
    expect((await tablesOf(t.db, garden)).map((x) => x.name)).toEqual([
      'accession_signs',
      'accessions',
      'beds',
      'plants',
    ]);
    const rows = await readQuery(
      t.db,
      garden,
      "select accession, bed, 1.50::numeric as price, date '2026-11-23' as day, null as none from accessions order by id limit 1;",
    );
    expect(rows).toEqual([
      ['accession', 'bed', 'price', 'day', 'none'],
      ['2012.0001', '', '1.50', '2026-11-23', ''],
    ]);
    const query =
      'select accession as "Accession", bed as "Bed" from accessions where id <= 20 order by id';
    const origin = { kind: 'database' as const, connection: garden, query, name: 'Garden' };
    const { list } = await take(
      await askIntake(t.db, { name: 'Garden', bytes: Buffer.alloc(0), origin, actor: 'test' }),
    );
    expect(await records(list)).toHaveLength(20);
    const admin = new pg.Client(t.url.replace(/\/[^/]+$/, '/garden_records'));
    await admin.connect();
    await admin.query(`update accessions set bed = (select bed from beds limit 1) where id = 1`);
    const id = await readAgain(t.db, list, 'test');
    await work();
    expect((await intake(id)).told).toMatchObject({ added: 0, changed: 1, gone: 0, unchanged: 19 });
    await admin.query(`update accessions set bed = null where id = 1`);
    await admin.end();
  });

  test.each([
    ['delete from accessions', /has an error|Only reading/],
    ['select 1; drop table accessions', /has an error/],
    ['select 1) as x; commit; delete from accessions; select * from (select 1', /has an error/],
    ['select * from nowhere', /does not exist/],
    ['selec 1', /has an error/],
    ["select pg_read_file('/etc/passwd')", /calls pg_read_file, which can do more than read/],
    ['select lo_create(0)', /calls lo_create/],
    ["select pg_catalog.\"pg_notify\" ('hand_stamp_news', 'list:1')", /calls pg_notify/],
    ['select PG_ADVISORY_LOCK/* */(7421)', /calls pg_advisory_lock/],
    ["select query_to_xml('select pg_notify(''a'', ''b'')', true, true, '')", /calls query_to_xml/],
    ["select U&\"pg\\005fnotify\"('a', 'b')", /escaped characters/],
    ['select pg_sleep(60)', /calls pg_sleep/],
    ["select repeat('x', 1000000) from generate_series(1, 200)", /more than 100 MB/],
    [
      'with gone as (delete from accessions returning *) select * from gone',
      /would change the database|not understood|may not/,
    ],
  ])('%s is refused in words', async (query, words) => {
    await expect(readQuery(t.db, garden, query)).rejects.toThrow(words);
    const [, [count] = []] = await readQuery(t.db, garden, 'select count(*) from accessions');
    expect(Number(count)).toBeGreaterThan(1000);
  });

  test('a wrong password, name or port is told apart, and nothing is kept', async () => {
    const address = new URL(t.url);
    const good = {
      name: 'X',
      host: address.hostname,
      port: Number(address.port),
      database: 'garden_records',
      username: 'garden_reader',
      password: 'marram-bay-reads-only',
      tls: 'no' as const,
    };
    // as it is before anybody allows it, machines of one's own network are left alone
    await expect(keepConnection(t.db, { ...good, database: 'nowhere' }, 'test')).rejects.toThrow(
      /your own network/,
    );
    await t.db.insertInto('settings').values({ name: 'door.private', value: 'yes' }).execute();
    onTestFinished(
      () => void t.db.deleteFrom('settings').where('name', '=', 'door.private').execute(),
    );
    await expect(keepConnection(t.db, { ...good, password: 'no' }, 'test')).rejects.toThrow(
      /refuses the password/,
    );
    await expect(keepConnection(t.db, { ...good, database: 'nowhere' }, 'test')).rejects.toThrow(
      /no database called nowhere/,
    );
    // closed, silent and unknown machines are not told apart
    const silent = createSocket(() => undefined);
    await new Promise<void>((ready) => silent.listen(0, '127.0.0.1', ready));
    onTestFinished(() => void silent.close());
    const { port: deaf } = silent.address() as AddressInfo;
    const told = async (of: object) =>
      (await keepConnection(t.db, { ...good, ...of }, 'test').catch(
        (e: Error) => e.message,
      )) as string;
    const words = (host: string, port: number) =>
      `No database answers at ${host}, port ${port}. Check the name and the port, and whether this server can reach it.`;
    expect(await told({ port: 1 })).toBe(words('127.0.0.1', 1));
    expect(await told({ port: deaf })).toBe(words('127.0.0.1', deaf));
    expect(await told({ host: 'nowhere.invalid' })).toBe(words('nowhere.invalid', good.port));
    expect(await told({ tls: 'yes' })).toMatch(/offers no encryption/);
    // our own server and users who may do everything are refused
    const own = new URL(t.url);
    expect(
      await told({
        database: own.pathname.slice(1),
        username: own.username,
        password: own.password,
      }),
    ).toMatch(/may change everything/);
    const admin = new pg.Client(t.url);
    await admin.connect();
    await admin.query(`create database ${own.pathname.slice(1)}_other`);
    await admin.end();
    expect(await told({ database: `${own.pathname.slice(1)}_other` })).toMatch(
      /in which Hand Stamp stores its own records/,
    );
    expect(
      await t.db.selectFrom('connections').select('id').where('name', '=', 'X').execute(),
    ).toEqual([]);
    const id = await keepConnection(t.db, good, 'test');
    const { password } = await t.db
      .selectFrom('connections')
      .select('password')
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    expect(password).not.toContain('marram');
    expect(unseal(password)).toBe('marram-bay-reads-only');
    expect(seal('a')).not.toBe(seal('a'));
  });
});

describe('the In-tray', () => {
  test('a spreadsheet that is saved is read again; what loses nothing is taken by itself', async () => {
    writeFileSync(join(tray, 'beds.csv'), 'Bed,Plant\nB1,Thrift\nB2,Sea kale\n');
    writeFileSync(join(tray, '~$beds.csv'), 'lock');
    expect((await trayEntries()).map((e) => e.name)).toEqual(['beds.csv']);
    const origin = { kind: 'tray' as const, name: 'beds.csv', headerRow: 0, takes: false };
    const { list } = await take(
      await askIntake(t.db, { name: 'beds.csv', bytes: Buffer.alloc(0), origin, actor: 'test' }),
      {
        follow: true,
      },
    );
    const watcher = await watchTray(t.db);
    try {
      const plants = async () => (await records(list)).map((r) => r.values.c2);
      const until = (check: () => Promise<boolean>) =>
        vi.waitUntil(
          async () => {
            await work();
            return check();
          },
          { interval: 100, timeout: 60_000 },
        );
      writeFileSync(join(tray, 'beds.csv'), 'Bed,Plant\nB1,Thrift\nB2,Sea holly\nB3,Samphire\n');
      expect(await until(async () => (await plants()).length === 3)).toBe(true);
      expect(await plants()).toEqual(['Thrift', 'Sea holly', 'Samphire']);
      // a record that is gone waits for a look
      writeFileSync(join(tray, 'beds.csv'), 'Bed,Plant\nB2,Sea holly\nB3,Samphire\n');
      const waits = async () =>
        (
          await t.db
            .selectFrom('intakes')
            .select('state')
            .where('list_id', '=', list)
            .where('state', '=', 'read')
            .execute()
        ).length === 1;
      expect(await until(waits)).toBe(true);
      expect(await plants()).toHaveLength(3);
    } finally {
      await watcher?.close();
    }
  });

  test('a folder becomes a list and is read again when files come and go', async () => {
    mkdirSync(join(tray, 'plans/north'), { recursive: true });
    writeFileSync(join(tray, 'plans/north/wall_bed.pdf'), 'x');
    writeFileSync(join(tray, 'plans/map.svg'), 'xy');
    const origin = {
      kind: 'folder' as const,
      name: 'plans',
      base: 'https://f.marrambay.example',
      tray: true,
    };
    const { list } = await take(
      await askIntake(t.db, { name: 'plans', bytes: Buffer.alloc(0), origin, actor: 'test' }),
    );
    expect((await records(list)).map((r) => [r.values.c2, r.values.c4])).toEqual([
      ['map', 'https://f.marrambay.example/map.svg'],
      ['wall bed', 'https://f.marrambay.example/north/wall_bed.pdf'],
    ]);
    rmSync(join(tray, 'plans/map.svg'));
    const id = await readAgain(t.db, list, 'test');
    await work();
    expect((await intake(id)).told).toMatchObject({ added: 0, gone: 1 });
  });

  test('names that lead out of it are refused', async () => {
    for (const name of ['../../secret.csv', '..', '/etc/passwd', 'a/b.csv', ''])
      await expect(trayFile(name)).rejects.toThrow(/is not in the In-tray/);
  });
});

describe('will it work at the door', () => {
  let server: Server;
  let port: number;
  const seen: string[] = [];
  beforeAll(async () => {
    server = createServer((request, response) => {
      seen.push(`${request.headers.host}${request.url}`);
      const [, path] = (request.url ?? '').split('/');
      const to = { moved: '/elsewhere', staff: 'https://m.example/login?next=1' }[path!];
      response
        .writeHead(
          to ? 302 : ({ gone: 404, broken: 500, closed: 401 }[path!] ?? 200),
          to ? { location: to } : {},
        )
        .end('x');
    });
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    port = (server.address() as AddressInfo).port;
  });
  afterAll(() => server.close());

  test.each([
    ['https://m.example/', 'opens', null],
    ['https://m.example/moved', 'redirected', 'https://m.example/elsewhere'],
    ['http://m.example/staff', 'sign-in', 'https://m.example/login?next=1'],
    ['http://m.example/gone', 'not-found', null],
    ['http://m.example/broken', 'fails', null],
    ['http://m.example/closed', 'sign-in', null],
  ])('%s: %s', async (address, state, leadsTo) => {
    expect(
      await askAddress(address, { privateToo: false, standIns: { 'm.example': port } }),
    ).toMatchObject({ state, leadsTo });
  });

  test('this machine and private networks are not asked unless that is allowed', async () => {
    const before = seen.length;
    for (const host of ['127.0.0.1', 'localhost', '[::1]', '0.0.0.0'])
      expect(
        (await askAddress(`http://${host}:${port}/`, { privateToo: false, standIns: {} })).state,
      ).toBe('not-asked');
    expect(seen.length).toBe(before);
    expect(
      (await askAddress(`http://127.0.0.1:${port}/`, { privateToo: true, standIns: {} })).state,
    ).toBe('opens');
    expect(
      (await askAddress('http://nowhere.invalid/', { privateToo: true, standIns: {} })).state,
    ).toBe('no-answer');
  });

  test('every distinct address of a list is asked once, in the background, and what they said is counted', async () => {
    await t.db
      .insertInto('settings')
      .values({ name: 'door.stand-ins', value: JSON.stringify({ 'm.example': port }) })
      .execute();
    const rows = Array.from(
      { length: 150 },
      (_, i) =>
        `K-${i},https://m.example/${i % 50 === 0 ? 'gone/' : i % 50 === 1 ? 'moved/' : 'p/'}${i % 140}`,
    );
    const { job } = await take(await file(['Key,Page', ...rows].join('\n')));
    const stamp = (await viewJob(t.db, job)).document.stamps[0]!;
    expect(stamp.does).toBe('page');
    const before = seen.length;
    await startAsking(t.db, job, stamp.id);
    await work();
    const report = await doorReport(t.db, job, stamp.id);
    expect(report).toMatchObject({ asked: report.addresses, asking: null });
    expect(seen.length - before).toBe(report.addresses);
    expect(Object.fromEntries(report.states.map((s) => [s.state, s.addresses]))).toMatchObject({
      'not-found': 3,
      redirected: 3,
    });
    expect(report.states.find((s) => s.state === 'redirected')?.samples[0]!.leadsTo).toBe(
      'https://m.example/elsewhere',
    );
  });
});
