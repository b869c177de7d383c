import { mkdtempSync, readdirSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { AddressInfo } from 'node:net';
import { sql } from 'kysely';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { keepWorkedColumn } from '../../src/server/lists/columns';
import { addRecords } from '../../src/server/lists';
import { orderSchema } from '../../src/core/orders/order';
import { listFirings, makeOrder, switchOrder } from '../../src/server/orders';
import { makeWebhook } from '../../src/server/webhooks';
import { makeLink, startAskingLinks } from '../../src/server/links';
import { startAsking } from '../../src/server/links/door';
import { changeJob, viewJob } from '../../src/server/jobs/jobs';
import { startRun } from '../../src/server/runs/runs';
import { viewRun } from '../../src/server/runs/run-views';
import { askIntake } from '../../src/server/sources/reread';
import { sayTheSame } from '../../src/server/sources/files/state';
import { allTasks, performTask } from '../../src/server/tasks/registry';
import {
  changeMailServer,
  addPrinter,
  listPrinters,
  sendToPrinter,
} from '../../src/server/delivery';
import { readFilePieces } from '../../src/server/platform/files';
import { listPaperFiles, receiptPages, takePaperFile } from '../../src/server/runs';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { mailServer, mailSettings, type TestMailServer } from '../helpers/mail-server';
import { runsIn } from '../helpers/runs';

/**
 * Runs every background task twice at once, as happens when a live worker is thought dead: the
 * result must be that of running it once.
 */
let t: TestDatabase;
let garden: ReturnType<typeof createServer>;
let asked: string[] = [];
let post: TestMailServer;
beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  t = await testDatabase();
  post = await mailServer();
  garden = createServer((request, response) => {
    asked.push(request.url!);
    response.end('here');
  });
  await new Promise<void>((ready) => garden.listen(0, '127.0.0.1', ready));
  const { port } = garden.address() as AddressInfo;
  await t.db
    .insertInto('settings')
    .values({ name: 'door.stand-ins', value: JSON.stringify({ 'garden.example': port }) })
    .execute();
});
afterAll(async () => {
  garden.close();
  await post.close();
  await t.close();
});

const { job } = runsIn(() => t);
const rows = [
  ['1', 'Wren', 'https://garden.example/1'],
  ['2', 'Tam', 'https://garden.example/2'],
  ['2', 'Inés', 'https://garden.example/3'],
  ['4', '', ''],
];
const csv = `No,Name,Page\n${rows.map((r) => r.join(',')).join('\n')}\n`;

/**
 * Everything about a list and its job that a task can change, without numbers that differ from one
 * to the next.
 */
async function stateOf(list: number): Promise<unknown> {
  const { rows: found } = await sql`
    select l.columns::text as columns, l.shapes::text as shapes, l.working, l.revision, l.judged >= l.changes as fresh,
      (select json_agg(json_build_array(position, values, hand) order by position) from records where list_id = l.id)::text as records,
      (select json_agg(json_build_array(r.position, j.records_mark, j.stamps_mark, j.piece_mark, j.overall, j.notes, j.content, j.run_mark, j.run_page) order by r.position, j.job_id)
        from job_rows j join records r on r.id = j.record_id where r.list_id = l.id)::text as verdicts,
      (select json_agg(json_build_array(r.position, p.kind, p.column_id, p.text, p.mended) order by r.position, p.kind, p.column_id) from problems p join records r on r.id = p.record_id where r.list_id = l.id)::text as problems,
      (select json_agg(json_build_array(r.position, p.what, p.print, p.mark) order by r.position, p.what) from prints p join records r on r.id = p.record_id where r.list_id = l.id)::text as prints,
      (select count(*)::int from revisions where list_id = l.id) as revisions,
      (select json_agg(judged >= changes order by id) from jobs where list_id = l.id)::text as jobs
    from lists l where id = ${list}`.execute(t.db);
  return found[0];
}

const made = () => job(['No', 'Name', 'Page'], ['key', 'name', 'text'], rows);
const forget = (list: number) =>
  t.db.updateTable('lists').set({ judged: 0, working: 1 }).where('id', '=', list).execute();
const worked = (column: string) => ({
  source: {
    kind: 'join' as const,
    parts: [
      { kind: 'column' as const, column },
      { kind: 'text' as const, text: '!' },
    ],
  },
  steps: [],
});

/** Sets up the work of a task; returns its payload, and how to see the result. */
type Case = () => Promise<{ payload: object; outcome: () => Promise<unknown> }>;
const listCase: Case = async () => {
  const { list } = await made();
  await keepWorkedColumn(t.db, list, { name: 'Loud', worked: worked('c2') }, 'test');
  await forget(list);
  await t.db.deleteFrom('prints').where('list_id', '=', list).execute();
  return { payload: { list }, outcome: () => stateOf(list) };
};
const jobCase: Case = async () => {
  const { id, list } = await made();
  const { version, document } = await viewJob(t.db, id);
  await changeJob(
    t.db,
    id,
    { version, document: { ...document, options: { ...document.options, copies: 2 } } },
    'test',
  );
  await t.db.updateTable('jobs').set({ judged: 0 }).where('id', '=', id).execute();
  await t.db.deleteFrom('job_rows').where('job_id', '=', id).execute();
  return { payload: { job: id }, outcome: () => stateOf(list) };
};
const intakeOf = async (file = csv) =>
  askIntake(t.db, {
    name: 'people.csv',
    bytes: Buffer.from(file),
    origin: { kind: 'file', name: 'people.csv', headerRow: 0 },
    actor: 'test',
  });
const run = async () => {
  const { id, list } = await made();
  return { list, run: await startRun(t.db, id, { name: 'r', which: 'with-code' }, 'test') };
};
const runState = async (list: number, id: number) => {
  const { state, pieces, made: pieceCount, codes, read, failed, files } = await viewRun(t.db, id);
  const { letters } = await t.db
    .selectFrom('letters')
    .select((e) => e.fn.countAll<number>().as('letters'))
    .where('run_id', '=', id)
    .executeTakeFirstOrThrow();
  return [
    state,
    pieces,
    pieceCount,
    codes,
    read,
    failed,
    files.map((f) => f.size),
    letters,
    await stateOf(list),
  ];
};

const cases: Record<string, Case> = {
  'webhooks.send': async () => {
    const { list } = await made();
    const { view } = await makeWebhook(
      t.db,
      {
        name: 'App',
        address: `https://garden.example/hook/${list}`,
        events: ['record.came'],
        list,
      },
      'test',
    );
    await addRecords(t.db, list, [{ c1: '9', c2: 'New' }], 'test');
    return {
      payload: {},
      outcome: async () => [
        await t.db
          .selectFrom('webhook_deliveries')
          .select(['state', 'tries', 'status'])
          .where('webhook_id', '=', view.id)
          .execute(),
        asked.filter((url) => url === `/hook/${list}`).length,
      ],
    };
  },
  'links.ask': async () => {
    const { code } = await makeLink(
      t.db,
      { title: 'Bench', to: 'https://garden.example/bench', for: 'anyone' },
      'test',
    );
    await startAskingLinks(t.db);
    const { value: since } = await t.db
      .selectFrom('settings')
      .select('value')
      .where('name', '=', 'links.asking')
      .executeTakeFirstOrThrow();
    return {
      payload: { since },
      outcome: async () => [
        await t.db.selectFrom('links').select('answered').where('code', '=', code).execute(),
        await t.db
          .selectFrom('settings')
          .select('name')
          .where('name', '=', 'links.asking')
          .execute(),
      ],
    };
  },
  'intake.read': async () => {
    const intake = await intakeOf();
    const read = () =>
      t.db
        .selectFrom('intakes')
        .select(['state', 'error', 'preview'])
        .where('id', '=', intake)
        .executeTakeFirstOrThrow();
    return { payload: { intake }, outcome: read };
  },
  'intake.take': async () => {
    const intake = await intakeOf();
    await performTask(t.db, 'intake.read', { intake });
    const take = { name: 'People', sheet: 0, headerRow: 0, roles: ['key', 'name', 'text'] };
    await t.db
      .updateTable('intakes')
      .set({ state: 'taking', take: JSON.stringify(take) })
      .where('id', '=', intake)
      .execute();
    const before = await t.db
      .selectFrom('lists')
      .select((e) => e.fn.countAll<number>().as('n'))
      .executeTakeFirstOrThrow();
    return {
      payload: { intake },
      outcome: async () => {
        const after = await t.db
          .selectFrom('lists')
          .select((e) => [e.fn.countAll<number>().as('n'), e.fn.max('id').as('last')])
          .executeTakeFirstOrThrow();
        const { state, error } = await t.db
          .selectFrom('intakes')
          .select(['state', 'error'])
          .where('id', '=', intake)
          .executeTakeFirstOrThrow();
        return [after.n - before.n, state, error, await stateOf(after.last!)];
      },
    };
  },
  'list.judge': listCase,
  'list.work': listCase,
  'list.renew': listCase,
  'job.renew': jobCase,
  'job.judge': jobCase,
  'door.ask': async () => {
    const { id } = await made();
    const { version, document } = await viewJob(t.db, id);
    const stamp = {
      ...document.stamps[0]!,
      does: 'page',
      parts: [{ kind: 'column' as const, column: 'c3' }],
    };
    await changeJob(t.db, id, { version, document: { ...document, stamps: [stamp] } }, 'test');
    await t.db.deleteFrom('answers').execute();
    asked = [];
    await startAsking(t.db, id, stamp.id!);
    return {
      payload: { job: id, stamp: stamp.id },
      outcome: async () => {
        const { asking } = await t.db
          .selectFrom('jobs')
          .select('asking')
          .where('id', '=', id)
          .executeTakeFirstOrThrow();
        return [
          asked.sort(),
          asking,
          await t.db
            .selectFrom('answers')
            .select(['address', 'state'])
            .orderBy('address')
            .execute(),
        ];
      },
    };
  },
  'run.chunk': async () => {
    const { list, run: id } = await run();
    return { payload: { run: id, chunk: 0 }, outcome: () => runState(list, id) };
  },
  'run.assemble': async () => {
    const { list, run: id } = await run();
    await performTask(t.db, 'run.chunk', { run: id, chunk: 0 });
    return { payload: { run: id }, outcome: () => runState(list, id) };
  },
  'mail.send': async () => {
    const from = post.taken.length;
    await changeMailServer(t.db, mailSettings(post.port));
    const people = Array.from({ length: 12 }, (_, n) => [`K-${n}`, `p${n}@post.example`]);
    const { id: made } = await job(['No', 'E-mail'], ['key', 'email'], people);
    const id = await startRun(
      t.db,
      made,
      { name: 'Mails', which: 'with-code', output: { kind: 'mail' } },
      'test',
    );
    await performTask(t.db, 'run.chunk', { run: id, chunk: 0 });
    await performTask(t.db, 'run.assemble', { run: id });
    return {
      payload: { run: id },
      outcome: async () => [
        post.taken
          .slice(from)
          .map((m) => m.to)
          .sort(),
        (await viewRun(t.db, id)).mail,
      ],
    };
  },
  'print.step': async () => {
    const { run: id } = await run();
    await performTask(t.db, 'run.chunk', { run: id, chunk: 0 });
    await performTask(t.db, 'run.assemble', { run: id });
    const tray = mkdtempSync(join(tmpdir(), 'hand-stamp-twice-'));
    process.env.HAND_STAMP_TRAY = tray;
    await t.db.deleteFrom('printers').execute();
    await addPrinter(t.db, {
      ...{ name: 'Paper', dpi: 300, offsetX: 0, offsetY: 0, finest: null },
      ...{ address: null, faults: ['nozzle'], intoTray: true },
    });
    const [printer] = await listPrinters(t.db, true);
    await sendToPrinter(t.db, printer!.id, { run: id });
    const [sent] = (await listPrinters(t.db, true))[0]!.jobs;
    return {
      payload: { job: sent!.id },
      outcome: async () => {
        const [now] = (await listPrinters(t.db, true))[0]!.jobs;
        return [now!.state, now!.printed, readdirSync(join(tray, 'Printed sheets')).length];
      },
    };
  },
  'paper.read': async () => {
    const { run: id } = await run();
    await performTask(t.db, 'run.chunk', { run: id, chunk: 0 });
    await performTask(t.db, 'run.assemble', { run: id });
    const { files } = await viewRun(t.db, id);
    const parts: Uint8Array[] = [];
    for await (const part of readFilePieces(t.db, files.find((f) => f.name.endsWith('.pdf'))!.id))
      parts.push(part);
    const file = await takePaperFile(t.db, id, 'scan.pdf', Buffer.concat(parts), 'test');
    return {
      payload: { file },
      outcome: async () => [
        (await listPaperFiles(t.db, id)).map(({ state, told }) => [state, told[0]?.picture?.found]),
        (await receiptPages(t.db, id)).map((page) => page.paper),
        (await t.db.selectFrom('paper_pictures').select('found').where('run_id', '=', id).execute())
          .length,
      ],
    };
  },
  'orders.tell': async () => {
    const { list, order } = await standing();
    return {
      payload: {},
      outcome: async () => {
        const { rows } = await sql`
          select state, count(*)::int as n from order_firings where order_id = ${order} group by 1`.execute(
          t.db,
        );
        return [rows, (await listOf(list)).length];
      },
    };
  },
  'orders.fire': async () => {
    const { list, order } = await standing();
    await performTask(t.db, 'orders.tell', {});
    return {
      payload: { lane: 0 },
      outcome: async () => [
        (await listFirings(t.db, { order })).firings.map(({ state, steps }) => [
          state,
          steps.length,
        ]),
        await listOf(list),
        (
          await t.db
            .selectFrom('links')
            .select('code')
            .where('title', '=', `Order of ${list}`)
            .execute()
        ).length,
      ],
    };
  },
  retention: async () => {
    const { list, run: id } = await run();
    await performTask(t.db, 'run.chunk', { run: id, chunk: 0 });
    await performTask(t.db, 'run.assemble', { run: id });
    await t.db
      .updateTable('runs')
      .set({ finished_at: new Date(0) })
      .where('id', '=', id)
      .execute();
    return { payload: {}, outcome: () => runState(list, id) };
  },
  janitor: async () => {
    const { list } = await run();
    await sql`delete from graphile_worker._private_jobs`.execute(t.db);
    const intake = await intakeOf();
    await sql`delete from graphile_worker._private_jobs`.execute(t.db);
    await t.db
      .updateTable('intakes')
      .set({ created_at: new Date(Date.now() - 120_000) })
      .where('id', '=', intake)
      .execute();
    return {
      payload: {},
      outcome: async () => {
        const { rows: queue } =
          await sql`select task_identifier from graphile_worker.jobs order by 1`.execute(t.db);
        const told = await t.db
          .selectFrom('intakes')
          .select(['state', 'error'])
          .where('id', '=', intake)
          .executeTakeFirstOrThrow();
        return [queue, told, await stateOf(list)];
      },
    };
  },
};

/** An order that is on, and two records that have come to its list. */
async function standing(): Promise<{ list: number; order: number }> {
  await t.db.deleteFrom('standing_orders').execute();
  const { list, columns } = await job(['No', 'Name'], ['key', 'name'], [['1', 'Wren']]);
  const order = await makeOrder(
    t.db,
    {
      name: `Order of ${list}`,
      document: orderSchema.parse({
        when: { kind: 'record', list, on: ['came'] },
        conditions: { all: true, list: [] },
        steps: [
          { kind: 'link', id: 'a', to: [{ kind: 'text', text: 'https://garden.example/1' }] },
          {
            kind: 'write',
            id: 'b',
            column: columns[1]!.id,
            parts: [{ kind: 'text', text: 'written' }],
          },
        ],
      }),
    },
    'test',
  );
  await switchOrder(t.db, order, { state: 'on', pausedUntil: null }, 'test');
  for (const no of ['2', '3']) await addRecords(t.db, list, [{ [columns[0]!.id]: no }], 'test');
  return { list, order };
}
const listOf = async (list: number) =>
  (
    await t.db
      .selectFrom('records')
      .select('values')
      .where('list_id', '=', list)
      .orderBy('position')
      .execute()
  ).map((r) => Object.values(r.values));

test.each([...allTasks().keys()])('%s', async (name) => {
  const once = await cases[name]!();
  await performTask(t.db, name, once.payload);
  const expected = await once.outcome();
  const twice = await cases[name]!();
  await Promise.all([
    performTask(t.db, name, twice.payload),
    performTask(t.db, name, twice.payload),
  ]);
  expect(await twice.outcome()).toEqual(expected);
  // and once more, later
  await performTask(t.db, name, twice.payload);
  expect(await twice.outcome()).toEqual(expected);
});

test('a re-read that two workers take at once is one revision', async () => {
  const intake = await intakeOf();
  await performTask(t.db, 'intake.read', { intake });
  await t.db
    .updateTable('intakes')
    .set({
      state: 'taking',
      take: JSON.stringify({
        name: 'People',
        sheet: 0,
        headerRow: 0,
        roles: ['key', 'name', 'text'],
      }),
    })
    .where('id', '=', intake)
    .execute();
  await performTask(t.db, 'intake.take', { intake });
  const { id: list } = await t.db
    .selectFrom('lists')
    .select('id')
    .orderBy('id', 'desc')
    .executeTakeFirstOrThrow();
  const again = await askIntake(t.db, {
    name: 'people.csv',
    bytes: Buffer.from(csv.replace('Wren', 'Wren Fell').replace('4,,', '5,Odd,')),
    origin: { kind: 'file', name: 'people.csv', headerRow: 0 },
    list,
    actor: 'test',
  });
  await Promise.all([
    performTask(t.db, 'intake.read', { intake: again }),
    performTask(t.db, 'intake.read', { intake: again }),
  ]);
  await t.db
    .updateTable('intakes')
    .set({ state: 'taking', take: JSON.stringify({ clashes: 'here', gone: 'out' }) })
    .where('id', '=', again)
    .execute();
  await Promise.all([
    performTask(t.db, 'intake.take', { intake: again }),
    performTask(t.db, 'intake.take', { intake: again }),
  ]);
  expect(
    await t.db
      .selectFrom('intakes')
      .select(['state', 'error'])
      .where('id', '=', again)
      .executeTakeFirstOrThrow(),
  ).toEqual({ state: 'taken', error: null });
  expect(
    (
      await t.db
        .selectFrom('revisions')
        .select('kind')
        .where('list_id', '=', list)
        .orderBy('number')
        .execute()
    ).map((r) => r.kind),
  ).toEqual(['intake', 'reread']);
  expect(
    await t.db
      .selectFrom('records')
      .select('values')
      .where('list_id', '=', list)
      .orderBy('position')
      .execute(),
  ).toHaveLength(4);
});

test('what is said to be the same while it is compared is compared with all that was said', async () => {
  const csv = 'Tag,Item,Where\nT-1,Spade,Shed\nT-2,Fork,Barn\n';
  const origin = { kind: 'file' as const, name: 'tools.csv', headerRow: 0 };
  const first = await askIntake(t.db, {
    name: 'tools.csv',
    bytes: Buffer.from(csv),
    origin,
    actor: 'test',
  });
  await performTask(t.db, 'intake.read', { intake: first });
  await t.db
    .updateTable('intakes')
    .set({
      state: 'taking',
      take: JSON.stringify({
        name: 'Tools',
        sheet: 0,
        headerRow: 0,
        roles: ['key', 'name', 'text'],
      }),
    })
    .where('id', '=', first)
    .execute();
  await performTask(t.db, 'intake.take', { intake: first });
  const { id: list } = await t.db
    .selectFrom('lists')
    .select('id')
    .orderBy('id', 'desc')
    .executeTakeFirstOrThrow();
  const bytes = Buffer.from('Number,Item,Place\nT-1,Spade,Shed\nT-2,Long fork,Barn\n');
  const intake = await askIntake(t.db, { name: 'tools.csv', bytes, origin, list, actor: 'test' });
  const read = () => performTask(t.db, 'intake.read', { intake });
  await read();
  // the two answers come one right after the other, from a window that has seen neither's outcome
  await sayTheSame(t.db, intake, { headings: { Number: 'c1' }, keys: false });
  await Promise.all([read(), sayTheSame(t.db, intake, { headings: { Place: 'c3' }, keys: false })]);
  await read();
  const { state, told, same } = await t.db
    .selectFrom('intakes')
    .select(['state', 'told', 'same'])
    .where('id', '=', intake)
    .executeTakeFirstOrThrow();
  expect([state, same?.headings]).toEqual(['read', { Number: 'c1', Place: 'c3' }]);
  expect(told).toMatchObject({ added: 0, changed: 1, gone: 0, newColumns: [] });
  expect(told?.asks).toBeUndefined();
});
