import { createServer, type IncomingHttpHeaders } from 'node:http';
import { randomUUID } from 'node:crypto';
import {
  copyFile,
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rename,
  rm,
  writeFile,
} from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import fc from 'fast-check';
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { orderSchema, type Order } from '../../../src/core/orders/order';
import type { Part } from '../../../src/core/records/parts';
import { addRecords, editCells, removeRecords, stepBack } from '../../../src/server/lists';
import {
  answerFiring,
  callOrder,
  changeOrder,
  fireAgain,
  fireByHand,
  fireFailedAgain,
  listFirings,
  listOrders,
  makeOrder,
  newCallSecret,
  readyOrder,
  rehearse,
  removeOrder,
  switchOrder,
  undoOrder,
  viewOrder,
} from '../../../src/server/orders';
import { PDFDocument } from '@cantoo/pdf-lib';
import type { PdfsGround } from '../../../src/core/piece/ground';
import { documentBytes, keepPdf, startSet } from '../../../src/server/documents';
import { changeJob, viewJob } from '../../../src/server/jobs';
import { pdfText } from '../../helpers/poppler';
import { fireOne } from '../../../src/server/orders/firing';
import { tellOrders } from '../../../src/server/orders/tell';
import { hearFile } from '../../../src/server/sources/tray-files';
import { watchTray } from '../../../src/server/sources/tray-watch';
import { makeCheckpoint, takeScans } from '../../../src/server/checkpoints';
import { changeMailServer, addPrinter, listPrinters } from '../../../src/server/delivery';
import { codeAt, makeLink, writeScans } from '../../../src/server/links';
import { countScan } from '../../../src/server/links/counting';
import { mailServer, mailSettings, type TestMailServer } from '../../helpers/mail-server';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { runsIn, workOff, type TestJob } from '../../helpers/runs';

let t: TestDatabase;
let tray: string;
let mails: TestMailServer;
let program: ReturnType<typeof createServer>;
let heard: { method: string; headers: IncomingHttpHeaders; body: string }[] = [];
/** The program's next answer; 200 by default. */
let answers: number[] = [];
beforeAll(async () => {
  t = await testDatabase();
  tray = await mkdtemp(join(tmpdir(), 'hand-stamp-tray-'));
  process.env.HAND_STAMP_TRAY = tray;
  mails = await mailServer();
  await changeMailServer(t.db, mailSettings(mails.port));
  program = createServer((request, response) => {
    let body = '';
    request.on('data', (part: Buffer) => (body += part.toString()));
    request.on('end', () => {
      heard.push({ method: request.method!, headers: request.headers, body });
      response.statusCode = answers.shift() ?? 200;
      response.end('thank you');
    });
  });
  await new Promise<void>((ready) => program.listen(0, '127.0.0.1', ready));
  const { port } = program.address() as AddressInfo;
  await t.db
    .insertInto('settings')
    .values({ name: 'door.stand-ins', value: JSON.stringify({ 'vault.example': port }) })
    .execute();
});
afterAll(async () => {
  delete process.env.HAND_STAMP_TRAY;
  program.close();
  await mails.close();
  await rm(tray, { recursive: true, force: true });
  await t.close();
});
beforeEach(async () => {
  heard = [];
  answers = [];
  mails.taken.length = 0;
  await t.db.deleteFrom('standing_orders').execute();
  await t.db.deleteFrom('order_events').execute();
});
const { job, work } = runsIn(() => t);

const garden = () =>
  job(
    ['No', 'Plant', 'Bed', 'Address'],
    ['key', 'name', 'text', 'text'],
    [
      ['A-1', 'Thrift', 'North 2', ''],
      ['A-2', 'Sea kale', '', ''],
    ],
    'Bed signs',
  );
const idOf = ({ columns }: TestJob, name: string) => columns.find((c) => c.name === name)!.id;
const text = (words: string): Part => ({ kind: 'text', text: words });
const column = (id: string): Part => ({ kind: 'column', column: id });

/** An order that is on. */
async function on(
  when: Order['when'],
  steps: unknown[],
  rest: Partial<Record<'conditions' | 'ask' | 'most', unknown>> = {},
  name = 'Order',
): Promise<number> {
  const document = orderSchema.parse({
    when,
    conditions: { all: true, list: [] },
    steps,
    ...rest,
  });
  const id = await makeOrder(t.db, { name, document }, 'Wren');
  if (when.kind === 'call') await newCallSecret(t.db, id);
  await switchOrder(t.db, id, { state: 'on', pausedUntil: null }, 'Wren');
  return id;
}
const came = (list: number, on: ('came' | 'changed' | 'went')[] = ['came']) =>
  ({ kind: 'record', list, on }) as const;
const add = (g: TestJob, no: string, plant: string, bed = 'South 1') =>
  addRecords(
    t.db,
    g.list,
    [{ [idOf(g, 'No')]: no, [idOf(g, 'Plant')]: plant, [idOf(g, 'Bed')]: bed }],
    'Wren',
  );
const change = (g: TestJob, record: number, name: string, value: string) =>
  editCells(t.db, g.list, [{ record, column: idOf(g, name), value }], 'Wren');
const valueOf = async (g: TestJob, record: number, name: string) =>
  (
    await t.db
      .selectFrom('records')
      .select('values')
      .where('id', '=', record)
      .executeTakeFirstOrThrow()
  ).values[idOf(g, name)];

/** Lets all that waits be due now, and works it off until nothing is left. */
async function settle(): Promise<void> {
  for (let i = 0; i < 400; i++) {
    await t.db
      .updateTable('order_events')
      .set({ due_at: new Date(0) })
      .where('told_at', 'is', null)
      .execute();
    await tellOrders(t.db);
    await t.db
      .updateTable('order_firings')
      .set({ due_at: new Date(0) })
      .where('state', '=', 'waiting')
      .execute();
    while (await fireOne(t.db)) if (await stuck()) break;
    const left = await t.db
      .selectFrom('order_firings')
      .select('id')
      .where('state', '=', 'waiting')
      .execute();
    const untold = await t.db
      .selectFrom('order_events')
      .select('id')
      .where('told_at', 'is', null)
      .execute();
    if (left.length === 0 && untold.length === 0) return;
    await sql`update graphile_worker._private_jobs set run_at = now() where run_at > now()`.execute(
      t.db,
    );
    await workOff(t);
  }
  throw new Error('it could not be downloaded to an end');
}
/** Answers everything that waits with “later”. */
const stuck = async () =>
  (
    await t.db
      .selectFrom('order_firings')
      .select('id')
      .where('state', '=', 'waiting')
      .where('due_at', '<=', sql<Date>`now()`)
      .execute()
  ).length === 0;
const firings = async (order?: number) => (await listFirings(t.db, { order })).firings;

test('a record that comes gets what the order writes; its own work does not start it again, and both stand in the log', async () => {
  const g = await garden();
  const id = await on(came(g.list, ['came', 'changed']), [
    {
      kind: 'write',
      id: 'a',
      column: idOf(g, 'Address'),
      parts: [text('bed '), column(idOf(g, 'Bed'))],
    },
  ]);
  const [record] = await add(g, 'A-3', 'Samphire');
  await settle();
  expect(await valueOf(g, record!, 'Address')).toBe('bed South 1');
  const log = await firings(id);
  expect(log.map((f) => [f.state, f.title, f.why])).toEqual([
    ['stopped', 'Samphire changed', 'it is this order’s own work, which never starts it again'],
    ['done', 'Samphire arrived', null],
  ]);
  expect(log[1]!.steps).toMatchObject([{ state: 'did', words: 'wrote bed South 1 to Address' }]);
  const { chain, created_by } = await t.db
    .selectFrom('revisions')
    .select(['chain', 'created_by'])
    .where('list_id', '=', g.list)
    .orderBy('number', 'desc')
    .executeTakeFirstOrThrow();
  expect([chain, created_by]).toEqual([[id], 'the standing order Order']);
  // taking its work back does not start it either
  await stepBack(t.db, g.list, 'undo', 'Wren');
  await settle();
  expect(await valueOf(g, record!, 'Address')).toBe('');
  expect((await firings(id))[0]!.why).toContain('own work');
  // what a person changes starts it again
  await change(g, record!, 'Bed', 'West 4');
  await settle();
  expect(await valueOf(g, record!, 'Address')).toBe('bed West 4');
});

test('two orders that write what the other waits for stop after one another', async () => {
  const g = await garden();
  const write = (to: string, from: string) => [
    { kind: 'write', id: 'a', column: idOf(g, to), parts: [column(idOf(g, from)), text('!')] },
  ];
  const one = await on(came(g.list, ['changed']), write('Address', 'Bed'), {}, 'One');
  const two = await on(came(g.list, ['changed']), write('Bed', 'Address'), {}, 'Two');
  const { id } = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .orderBy('id')
    .executeTakeFirstOrThrow();
  await change(g, id, 'Plant', 'Sea thrift');
  await settle();
  const log = [...(await firings(one)), ...(await firings(two))];
  expect(log.filter((f) => f.why?.includes('through others')).length).toBeGreaterThan(0);
  // each was done by the person's change and by the other's, and by nothing after that
  expect(log.filter((f) => f.state === 'done')).toHaveLength(4);
});

test('conditions stop it with why; a value that is reached starts it once, and one that is there already does not', async () => {
  const g = await garden();
  const bed = idOf(g, 'Bed');
  const id = await on(
    came(g.list),
    [{ kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('x')] }],
    {
      conditions: {
        all: true,
        list: [{ of: 'column', column: bed, is: 'filled' }, { of: 'fits' }],
      },
    },
  );
  await add(g, 'A-4', 'Thrift', '');
  await settle();
  expect((await firings(id))[0]).toMatchObject({
    state: 'stopped',
    why: 'its Bed is blank',
    steps: [],
  });
  const reaches = await on({ kind: 'reaches', list: g.list, column: bed, value: 'gone' }, [
    { kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('gone')] },
  ]);
  const [record] = await add(g, 'A-5', 'Thrift', 'North');
  for (const value of ['GONE ', 'gone', 'North', 'gone']) await change(g, record!, 'Bed', value);
  await settle();
  expect((await firings(reaches)).map((f) => f.state)).toEqual(['done', 'done']);
});

test('a record that went is told of as it was, and taking back starts it the other way round', async () => {
  const g = await garden();
  const id = await on(came(g.list, ['went']), [
    {
      kind: 'call',
      id: 'a',
      to: [text('https://vault.example/gone')],
      fields: [{ name: 'plant', parts: [column(idOf(g, 'Plant'))] }],
    },
  ]);
  const [record] = await add(g, 'A-6', 'Sea holly');
  await removeRecords(t.db, g.list, [record!], 'Wren');
  await settle();
  expect(heard.map((h) => [h.method, JSON.parse(h.body)])).toEqual([
    ['POST', { plant: 'Sea holly' }],
  ]);
  expect((await firings(id))[0]!.title).toBe('Sea holly went');
  await stepBack(t.db, g.list, 'undo', 'Wren');
  await stepBack(t.db, g.list, 'undo', 'Wren');
  await settle();
  expect(heard).toHaveLength(2);
});

test('an address that is called gets the same name every time, its sealed header, and nobody sees that; what may pass is tried again', async () => {
  const g = await garden();
  answers = [503, 200];
  const steps = (to: string, value: string) => [
    {
      kind: 'call',
      id: 'a',
      method: 'PUT',
      to: [text(to)],
      headers: [{ name: 'X-Key', value, secret: true }],
      fields: [],
    },
    {
      kind: 'write',
      id: 'b',
      column: idOf(g, 'Address'),
      parts: [column('made.a.status'), text(' '), column('made.a.answer')],
    },
  ];
  const id = await on(came(g.list), steps('https://vault.example/in', 'tide-table'));
  const [record] = await add(g, 'A-7', 'Thrift');
  await settle();
  expect(heard.map((h) => [h.method, h.headers['x-key'], h.headers['hand-stamp-orders']])).toEqual([
    ['PUT', 'tide-table', String(id)],
    ['PUT', 'tide-table', String(id)],
  ]);
  expect(heard[0]!.headers['idempotency-key']).toBe(heard[1]!.headers['idempotency-key']);
  expect(await valueOf(g, record!, 'Address')).toBe('200 thank you');
  const view = await viewOrder(t.db, id);
  expect(JSON.stringify(view)).not.toContain('tide-table');
  const stored = await sql<{
    text: string;
  }>`select document::text as text from standing_orders where id = ${id}`.execute(t.db);
  expect(stored.rows[0]!.text).not.toContain('tide-table');
  // kept while the web address stays, sent to no other
  const same = orderSchema.parse({ ...view.document, most: 7 });
  await changeOrder(t.db, id, { version: 1, name: 'Order', document: same }, 'Wren');
  await add(g, 'A-8', 'Thrift');
  await settle();
  expect(heard.at(-1)!.headers['x-key']).toBe('tide-table');
  const elsewhere = orderSchema.parse({
    ...view.document,
    steps: steps('https://elsewhere.example/', ''),
  });
  await expect(
    changeOrder(t.db, id, { version: 2, name: 'Order', document: elsewhere }, 'Wren'),
  ).rejects.toThrow('enter the value of the secret header X-Key again');
});

test('what fails says so, is done again from its step or from the start, and nothing before it is done twice', async () => {
  const g = await garden();
  answers = [404, 404, 200, 200];
  const id = await on(came(g.list), [
    { kind: 'link', id: 'a', to: [text('https://garden.example/'), column(idOf(g, 'No'))] },
    {
      kind: 'call',
      id: 'b',
      to: [text('https://vault.example/in')],
      fields: [{ name: 'link', parts: [column('made.a.address')] }],
    },
  ]);
  await add(g, 'A-9', 'Thrift');
  await settle();
  const [failed] = await firings(id);
  expect(failed).toMatchObject({ state: 'failed', why: 'vault.example answered 404: thank you' });
  await fireAgain(t.db, failed!.id, 'step');
  await settle();
  expect((await firings(id))[0]!.state).toBe('failed');
  expect(await fireFailedAgain(t.db, id, 'step')).toBe(1);
  await settle();
  expect((await firings(id))[0]!.state).toBe('done');
  expect(new Set(heard.map((h) => h.body)).size).toBe(1);
  await expect(fireAgain(t.db, failed!.id, 'start')).rejects.toThrow('did not fail');
  expect((await listOrders(t.db))[0]!.day).toEqual({ done: 1, failed: 0, asking: 0 });
});

test('what a job makes is made by a run and read back, put into the Out-tray once, and mailed once', async () => {
  const g = await garden();
  const id = await on(came(g.list), [
    { kind: 'make', id: 'a', job: g.id, output: 'pdf', which: 'record' },
    { kind: 'out', id: 'b', folder: 'Bed signs' },
    {
      kind: 'mail',
      id: 'c',
      to: [text('garden@marrambay.example')],
      subject: [text('Sign of '), column(idOf(g, 'Plant'))],
      text: [text('Here it is.')],
    },
  ]);
  await add(g, 'A-10', 'Samphire');
  await settle();
  const [firing] = await firings(id);
  expect(firing!.steps.map((s) => s.words)).toEqual([
    expect.stringMatching(/^made 1 piece: Bed signs.*: Samphire, 1 code read back$/),
    expect.stringMatching(/^put .*\.pdf into the Out-tray’s folder Bed signs$/),
    'emailed it to garden@marrambay.example',
  ]);
  const files = await readdir(join(tray, 'Out-tray', 'Bed signs'));
  expect(files).toHaveLength(1);
  expect(
    (await readFile(join(tray, 'Out-tray', 'Bed signs', files[0]!))).subarray(0, 5).toString(),
  ).toBe('%PDF-');
  expect(mails.taken.map((m) => [m.to, m.mail.subject, m.mail.attachments.length])).toEqual([
    ['garden@marrambay.example', 'Sign of Samphire', 1],
  ]);
  // put there again it is the same file
  await t.db
    .updateTable('order_firings')
    .set({ state: 'waiting', seq: 1 })
    .where('id', '=', firing!.id)
    .execute();
  await settle();
  expect(await readdir(join(tray, 'Out-tray', 'Bed signs'))).toEqual(files);
  expect(mails.taken).toHaveLength(1);
});

test('killed between any two steps, and with workers that overlap, each is done once', async () => {
  const g = await garden();
  const id = await on(came(g.list), [
    { kind: 'link', id: 'a', to: [text('https://garden.example/'), column(idOf(g, 'No'))] },
    { kind: 'write', id: 'b', column: idOf(g, 'Address'), parts: [column('made.a.address')] },
    { kind: 'make', id: 'c', job: g.id, output: 'pdf', which: 'record' },
    { kind: 'out', id: 'd' },
  ]);
  const before = await t.db.selectFrom('links').select('code').execute();
  const runs = await t.db.selectFrom('runs').select('id').execute();
  await add(g, 'A-11', 'Thrift');
  await tellOrders(t.db);
  let killed = 0;
  // the connection of the working process is cut in the middle of each step in turn
  for (let cut = 0; cut < 14; cut++) {
    await t.db
      .updateTable('order_firings')
      .set({ due_at: new Date(0) })
      .execute();
    await sql`create or replace function cut() returns trigger language plpgsql as $$ begin perform pg_terminate_backend(pg_backend_pid()); return new; end $$`.execute(
      t.db,
    );
    if (cut % 2 === 0)
      await sql`create trigger cut before insert or update on firing_steps for each row execute function cut()`.execute(
        t.db,
      );
    const hands = await Promise.allSettled(
      cut % 2 === 0 ? [fireOne(t.db), fireOne(t.db), fireOne(t.db)] : [fireOne(t.db)],
    );
    killed += hands.filter((hand) => hand.status === 'rejected').length;
    await sql`drop trigger if exists cut on firing_steps`.execute(t.db);
    await work();
  }
  await settle();
  expect(killed).toBeGreaterThanOrEqual(5);
  expect((await firings(id)).map((f) => f.state)).toContain('done');
  expect(await t.db.selectFrom('links').select('code').execute()).toHaveLength(before.length + 1);
  expect(await t.db.selectFrom('runs').select('id').execute()).toHaveLength(runs.length + 1);
});

test('an order that starts too often stops itself and says so', async () => {
  const g = await garden();
  const id = await on(
    came(g.list),
    [{ kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('x')] }],
    { most: 3 },
  );
  await addRecords(
    t.db,
    g.list,
    Array.from({ length: 5 }, (_, i) => ({
      [idOf(g, 'No')]: `B-${i}`,
      [idOf(g, 'Plant')]: 'Thrift',
    })),
    'Wren',
  );
  await settle();
  const view = await viewOrder(t.db, id);
  expect([view.state, view.why]).toEqual([
    'stopped',
    expect.stringContaining('more than 3 times within an hour, so its safety stop turned it off'),
  ]);
  const log = await firings(id);
  expect(log.map((f) => f.state).sort()).toEqual(['done', 'done', 'done', 'stopped', 'stopped']);
  const letters = await t.db
    .selectFrom('letters')
    .select('subject')
    .where('kind', '=', 'order')
    .execute();
  expect(letters).toEqual([{ subject: 'Order was stopped by its safety stop' }]);
});

test('somebody who wants to be asked is asked before anything goes out', async () => {
  const g = await garden();
  const id = await on(
    came(g.list),
    [
      { kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('x')] },
      { kind: 'call', id: 'b', to: [text('https://vault.example/in')] },
    ],
    { ask: true },
  );
  await add(g, 'A-12', 'Thrift');
  await add(g, 'A-13', 'Sea kale');
  await settle();
  const log = await firings(id);
  expect(log.map((f) => f.state)).toEqual(['asking', 'asking']);
  expect(heard).toEqual([]);
  await answerFiring(t.db, log[0]!.id, true, 'Wren');
  await answerFiring(t.db, log[1]!.id, false, 'Wren');
  await settle();
  expect((await firings(id)).map((f) => [f.state, f.why])).toEqual([
    ['done', null],
    ['declined', 'Wren did not approve it'],
  ]);
  expect(heard).toHaveLength(1);
  await expect(answerFiring(t.db, log[0]!.id, true, 'Wren')).rejects.toThrow('no longer waits');
});

test('a program calls with its secret or its signature; told twice it is one; nothing else opens it', async () => {
  const g = await garden();
  const id = await on({ kind: 'call', list: g.list, key: 'plant.no' }, [
    { kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [column('given.plant.where')] },
  ]);
  const secret = await newCallSecret(t.db, id);
  const { address } = (await viewOrder(t.db, id)).call!;
  const token = address.split('/').at(-1)!;
  const call = (body: string, headers: Record<string, string>) =>
    callOrder(t.db, token, new Request(address, { method: 'POST', body, headers }));
  const body = JSON.stringify({ plant: { no: 'a 1', where: 'West 9' } });
  const bearer = { authorization: `Bearer ${secret}`, 'idempotency-key': 'k1' };
  expect(await call(body, bearer)).toEqual({ taken: true });
  expect(await call(body, bearer)).toEqual({ taken: true });
  const { Webhook } = await import('standardwebhooks');
  const now = new Date();
  const signed = {
    'webhook-id': 'w1',
    'webhook-timestamp': String(Math.floor(now.getTime() / 1000)),
    'webhook-signature': new Webhook(secret).sign('w1', now, body),
  };
  expect(await call(body, signed)).toEqual({ taken: true });
  await expect(call(`${body} `, signed)).rejects.toThrow('the secret is wrong');
  await expect(call(body, {})).rejects.toThrow('the secret is wrong');
  await expect(call('{', bearer)).rejects.toThrow('not JSON');
  // what a database does not keep is left out, and what only looks so is kept
  const odd = '{"a":"x\\u0000y","b\\u0000":"\\ud800","c":"\\\\u0000"}';
  expect(await call(odd, { ...bearer, 'idempotency-key': 'odd' })).toEqual({ taken: true });
  expect((await viewOrder(t.db, id)).call!.places).toEqual([
    ['a', 'xy'],
    ['b', '\ufffd'],
    ['c', '\\u0000'],
  ]);
  expect(await call(body, { ...bearer, 'idempotency-key': 'k1' })).toEqual({ taken: true });
  await settle();
  const log = await firings(id);
  expect(log.map((f) => f.state)).toEqual(['failed', 'done', 'done']);
  const { id: record } = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .orderBy('id')
    .executeTakeFirstOrThrow();
  expect(await valueOf(g, record, 'Address')).toBe('West 9');
  expect((await viewOrder(t.db, id)).call!.places).toEqual([
    ['plant.no', 'a 1'],
    ['plant.where', 'West 9'],
  ]);
  // by the work of this very order: it does not call itself
  await call(body, { ...bearer, 'idempotency-key': 'k2', 'hand-stamp-orders': String(id) });
  await settle();
  expect((await firings(id))[0]!.why).toContain('own work');
});

test('ten saves of one file are one event, a file heard of twice is one, and what we put there ourselves is none', async () => {
  const g = await garden();
  const id = await on(
    { kind: 'document', folder: '', again: true, list: g.list },
    [{ kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [column('given.path')] }],
    { conditions: { all: true, list: [{ of: 'ending', value: 'pdf' }, { of: 'record' }] } },
  );
  const path = join(tray, 'agreement A-1.pdf');
  for (let i = 0; i < 10; i++) {
    await writeFile(path, `%PDF-${i}`.repeat(i + 1));
    await hearFile(t.db, path, i === 0 ? 'came' : 'changed');
  }
  await hearFile(t.db, path, 'changed');
  await writeFile(join(tray, 'note.txt'), 'x');
  await hearFile(t.db, join(tray, 'note.txt'), 'came');
  await settle();
  expect((await firings(id)).map((f) => [f.title, f.state, f.why])).toEqual([
    ['note.txt arrived', 'stopped', 'it is a .txt'],
    ['agreement A-1.pdf arrived', 'done', null],
  ]);
  await hearFile(t.db, path, 'changed');
  await settle();
  expect(await firings(id)).toHaveLength(2);
  await rm(path);
  await rm(join(tray, 'note.txt'));
});

test('a file that lands in a folder in the moment the folder comes is heard of, once', async () => {
  await on({ kind: 'document', folder: 'Never', again: true, list: null }, [
    { kind: 'stop', id: 'a' },
  ]);
  const watcher = await watchTray(t.db);
  const events = async () =>
    (
      await t.db
        .selectFrom('order_events')
        .select('thing')
        .where('thing', 'like', 'file Box %')
        .orderBy('thing')
        .execute()
    ).map((event) => event.thing);
  const boxes = Array.from({ length: 150 }, (_, i) => `Box ${String(i).padStart(3, '0')}`);
  try {
    for (const [i, box] of boxes.entries()) {
      const path = join(tray, box, 'a.pdf');
      await mkdir(join(tray, box));
      // before, while, and after the folder is looked through for the first time
      await setTimeout((i % 20) / 4);
      await writeFile(`${path}.part`, Buffer.alloc(50_000));
      await rename(`${path}.part`, path);
      await setTimeout(10);
    }
    await expect.poll(events, { timeout: 60_000 }).toEqual(boxes.map((box) => `file ${box}/a.pdf`));
  } finally {
    await watcher?.close();
    for (const box of boxes) await rm(join(tray, box), { recursive: true, force: true });
  }
}, 120_000);

test('by the clock each time comes once, and one that passed while nothing ran comes once, late', async () => {
  const g = await garden();
  const id = await on(
    { kind: 'schedule', schedule: { kind: 'days', days: [5], at: '07:30', zone: 'Europe/London' } },
    [
      { kind: 'make', id: 'a', job: g.id, output: 'csv', which: 'ready' },
      { kind: 'out', id: 'b', folder: 'Check-in' },
    ],
  );
  const next = Date.parse((await viewOrder(t.db, id)).next!);
  await tellOrders(t.db, next - 1000);
  expect(await firings(id)).toEqual([]);
  await Promise.all([tellOrders(t.db, next + 1), tellOrders(t.db, next + 2)]);
  await tellOrders(t.db, next + 3);
  await settle();
  expect((await firings(id)).map((f) => f.state)).toEqual(['done']);
  await tellOrders(t.db, next + 15 * 24 * 3600_000);
  await settle();
  expect(await firings(id)).toHaveLength(2);
});

test('for each row of another list that belongs to it; by hand for those that are ticked; then it stops where it says', async () => {
  const g = await garden();
  const trays = await job(
    ['Tray', 'Of'],
    ['key', 'text'],
    [
      ['T-1', 'A-1'],
      ['T-2', 'a-1'],
      ['T-3', 'A-2'],
    ],
    'Trays',
  );
  const id = await on({ kind: 'hand', list: g.list }, [
    {
      kind: 'each',
      id: 'a',
      list: trays.list,
      column: idOf(trays, 'Of'),
      is: [column(idOf(g, 'No'))],
    },
    {
      kind: 'call',
      id: 'b',
      to: [text('https://vault.example/tray')],
      fields: [{ name: 'tray', parts: [column(`row.a.${idOf(trays, 'Tray')}`)] }],
    },
    { kind: 'stop', id: 'c' },
    { kind: 'write', id: 'd', column: idOf(g, 'Address'), parts: [text('x')] },
  ]);
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .execute();
  expect(await fireByHand(t.db, id, [records[0]!.id, records[0]!.id, 999_999], 'Wren')).toBe(1);
  await settle();
  expect(heard.map((h) => JSON.parse(h.body).tray as string).sort()).toEqual(['T-1', 'T-2']);
  expect((await firings(id)).map((f) => f.state).sort()).toEqual(['done', 'stopped', 'stopped']);
});

test('what is asked for by hand is meant, however often in an hour', async () => {
  const g = await garden();
  const id = await on(
    { kind: 'hand', list: g.list },
    [{ kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('asked')] }],
    { most: 1 },
  );
  const records = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .execute();
  await fireByHand(
    t.db,
    id,
    records.map((r) => r.id),
    'Wren',
  );
  await settle();
  expect((await firings(id)).map((f) => f.state)).toEqual(['done', 'done']);
  expect((await viewOrder(t.db, id)).state).toBe('on');
});

test('switched off, what waits is not gone on with; paused, what happens waits for its day', async () => {
  const g = await garden();
  const id = await on(came(g.list), [
    { kind: 'call', id: 'a', to: [text('https://vault.example/in')] },
  ]);
  await switchOrder(
    t.db,
    id,
    { state: 'on', pausedUntil: new Date(Date.now() + 86_400_000).toISOString() },
    'Wren',
  );
  await add(g, 'A-14', 'Thrift');
  await tellOrders(t.db);
  expect(await fireOne(t.db)).toBe(false);
  expect((await firings(id))[0]!.state).toBe('waiting');
  await switchOrder(t.db, id, { state: 'on', pausedUntil: null }, 'Wren');
  expect(await fireOne(t.db)).toBe(true);
  expect(heard).toHaveLength(1);
  await add(g, 'A-15', 'Thrift');
  await tellOrders(t.db);
  await switchOrder(t.db, id, { state: 'off', pausedUntil: null }, 'Wren');
  await settle();
  // another order listens, so the event is recorded
  await on(came(g.list), [{ kind: 'stop', id: 'a' }], {}, 'Another');
  await add(g, 'A-16', 'Thrift');
  // events before it was turned on do not start it, even if they were not handled yet
  await switchOrder(t.db, id, { state: 'on', pausedUntil: null }, 'Wren');
  await settle();
  expect(heard).toHaveLength(1);
  expect((await firings(id))[0]!.why).toBe('the order was turned off before its turn');
  await removeOrder(t.db, id);
  await expect(viewOrder(t.db, id)).rejects.toThrow('no longer exists');
});

test('changes are versions: a firing goes on by the one it began with, a stale window is told, and it can be undone', async () => {
  const g = await garden();
  const write = (words: string) => [
    { kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text(words)] },
  ];
  const id = await on(came(g.list), write('first'));
  const [record] = await add(g, 'A-17', 'Thrift');
  await tellOrders(t.db);
  const { document } = await viewOrder(t.db, id);
  const second = orderSchema.parse({ ...document, steps: write('second') });
  await changeOrder(t.db, id, { version: 1, name: 'Order', document: second }, 'Wren');
  await expect(
    changeOrder(t.db, id, { version: 1, name: 'Order', document }, 'Wren'),
  ).rejects.toThrow('another window');
  await settle();
  expect(await valueOf(g, record!, 'Address')).toBe('first');
  expect((await firings(id)).find((f) => f.state === 'done')!.version).toBe(1);
  const undone = await undoOrder(t.db, id, 2, 'Wren');
  expect(undone.version).toBe(3);
  expect(undone.document.steps).toEqual(document.steps);
  const nothing = orderSchema.parse({ ...document, steps: [] });
  await expect(
    changeOrder(t.db, id, { version: 3, name: 'Order', document: nothing }, 'Wren'),
  ).rejects.toThrow('First choose what it does');
});

test('a rehearsal asks the same questions of what really happened, and makes, writes and sends nothing', async () => {
  const g = await garden();
  const bed = idOf(g, 'Bed');
  const document = orderSchema.parse({
    when: came(g.list, ['came', 'changed']),
    conditions: {
      all: true,
      list: [
        { of: 'column', column: bed, is: 'filled' },
        { of: 'done', done: false },
      ],
    },
    steps: [
      { kind: 'make', id: 'a', job: g.id, output: 'pdf', which: 'record' },
      { kind: 'mail', id: 'b', to: [column(idOf(g, 'Address'))], subject: [], text: [] },
    ],
  });
  const id = await makeOrder(t.db, { name: 'Order', document }, 'Wren');
  await add(g, 'A-20', 'Horned poppy', '');
  const [full] = await add(g, 'A-21', 'Samphire');
  const counts = () =>
    sql<{
      n: string;
    }>`select json_build_array((select count(*) from runs), (select count(*) from mails), (select count(*) from revisions), (select count(*) from order_firings))::text as n`.execute(
      t.db,
    );
  const before = await counts();
  const { parts, lines } = await rehearse(t.db, id, { document });
  expect(parts.map((p) => p.short)).toEqual([
    'comes or changes',
    'Bed not blank',
    'only once',
    'make it',
    'email it',
  ]);
  expect(lines.map((l) => [l.title, l.why])).toEqual([
    ['Samphire arrived', 'The email address is blank.'],
    ['Horned poppy arrived', 'its Bed is blank'],
  ]);
  expect(lines[0]!.cells.map((c) => c.state)).toEqual(['on', 'on', 'on', 'on', 'wrong']);
  expect(lines[1]!.cells.map((c) => c.state)).toEqual(['on', 'stops', 'none', 'none', 'none']);
  await change(g, full!, 'Address', 'garden@marrambay.example');
  const again = await rehearse(t.db, id, { document, record: full! });
  expect(again.lines).toHaveLength(1);
  expect(again.lines[0]!.cells.map((c) => c.state)).toEqual(['on', 'on', 'on', 'on', 'on']);
  const after = await counts();
  // the change by hand is a revision; nothing else came
  expect(JSON.parse(after.rows[0]!.n)).toEqual(
    (JSON.parse(before.rows[0]!.n) as number[]).map((n, i) => (i === 2 ? n + 1 : n)),
  );
});

test('sentences that are ready are made of the lists and jobs that are here, and rehearse', async () => {
  const g = await garden();
  for (const kind of ['volunteers', 'signs', 'check-in', 'links', 'withdrawals'] as const) {
    const ready = await readyOrder(t.db, kind);
    const id = await makeOrder(t.db, ready, 'Wren');
    const { lines } = await rehearse(t.db, id, { document: (await viewOrder(t.db, id)).document });
    expect(lines.length, kind).toBeGreaterThanOrEqual(kind === 'withdrawals' ? 0 : 1);
    expect((await listOrders(t.db)).find((o) => o.id === id)!.says).toMatch(/^When .*\.$/);
  }
  expect(g.list).toBeGreaterThan(0);
});

test('a code that is scanned at a checkpoint starts it, at that one or any; so does its link that is followed', async () => {
  const g = await garden();
  const gate = await makeCheckpoint(t.db, { name: 'North gate', list: g.list }, 'test');
  const shed = await makeCheckpoint(t.db, { name: 'Shed', list: g.list }, 'test');
  const write = [
    {
      kind: 'write',
      id: 'a',
      column: idOf(g, 'Address'),
      parts: [column('given.where'), text(' '), column('given.answer')],
    },
  ];
  const any = await on(
    { kind: 'scan', of: 'checkpoint', checkpoint: null, list: g.list },
    write,
    {},
    'Any',
  );
  const here = await on(
    { kind: 'scan', of: 'checkpoint', checkpoint: shed, list: g.list },
    write,
    {},
    'Shed',
  );
  const link = await on(
    { kind: 'scan', of: 'link', checkpoint: null, list: g.list },
    write,
    {},
    'Link',
  );
  const scan = (checkpoint: number, code: string) =>
    takeScans(
      t.db,
      checkpoint,
      { device: null, who: 'Ines' },
      [{ key: randomUUID(), how: 'reader', text: code } as never],
      { now: Date.now(), waiting: 0 },
    );
  await scan(gate, 'A-1');
  await scan(gate, 'nobody knows this');
  await settle();
  expect((await firings(any)).map((f) => [f.title, f.state])).toEqual([
    ['Thrift was scanned at North gate', 'done'],
  ]);
  expect(await firings(here)).toEqual([]);
  const { id: record } = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .orderBy('id')
    .executeTakeFirstOrThrow();
  expect(await valueOf(g, record, 'Address')).toBe('North gate comes-in');
  const { code } = await makeLink(
    t.db,
    { title: 'Thrift', to: 'https://garden.example/', for: 'anyone' },
    'test',
  );
  await t.db
    .updateTable('links')
    .set({ list_id: g.list, record_id: record })
    .where('code', '=', code)
    .execute();
  countScan(t.db, code, 'phone');
  countScan(t.db, code, 'phone');
  await writeScans(t.db);
  await settle();
  expect((await firings(link)).map((f) => [f.title, f.state])).toEqual([
    ['The link of Thrift was opened', 'done'],
  ]);
});

test('a link and a picture’s address are made and written back; sheets are sent to a printer once', async () => {
  const g = await garden();
  const { stamps } = await t.db
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', g.list)
    .executeTakeFirstOrThrow();
  await addPrinter(t.db, {
    ...{ name: 'Shed', dpi: 300, offsetX: 0, offsetY: 0, finest: null },
    ...{ address: null, faults: [], intoTray: false },
  });
  const printer = (await listPrinters(t.db, true)).find((p) => p.name === 'Shed')!;
  const id = await on(came(g.list), [
    { kind: 'picture', id: 'a', job: g.id, stamp: stamps[0]!.id },
    { kind: 'write', id: 'b', column: idOf(g, 'Address'), parts: [column('made.a.address')] },
    { kind: 'make', id: 'c', job: g.id, output: 'pdf', which: 'record' },
    { kind: 'print', id: 'd', printer: printer.id },
  ]);
  const [record] = await add(g, 'A-40', 'Thrift');
  await settle();
  const [firing] = (await firings(id)).filter((f) => f.steps.length > 0);
  expect(firing).toMatchObject({ state: 'done' });
  const address = (await valueOf(g, record!, 'Address'))!;
  const { bytes } = await codeAt(t.db, address.split('/').at(-1)!, {});
  expect(Buffer.from(bytes).subarray(1, 4).toString()).toBe('PNG');
  const jobs = () =>
    t.db.selectFrom('print_jobs').select('id').where('printer_id', '=', printer.id).execute();
  expect(await jobs()).toHaveLength(1);
  // a process that died before it stored the result sends nothing again
  await t.db
    .updateTable('order_firings')
    .set({ state: 'waiting', seq: 3 })
    .where('id', '=', firing!.id)
    .execute();
  await settle();
  expect(await jobs()).toHaveLength(1);
});

test('a file is asked for its size and its pages; one that is not as it should be says so', async () => {
  const ask = async (list: object[]) => {
    const id = await on(
      { kind: 'document', folder: 'Asked', again: true, list: null },
      [{ kind: 'stop', id: 'a' }],
      { conditions: { all: true, list } },
    );
    return async () => (await firings(id)).map((f) => f.why);
  };
  await mkdir(join(tray, 'Asked'), { recursive: true });
  const pages = await ask([{ of: 'pages', is: 'at-most', value: 1 }]);
  const bytes = await ask([{ of: 'bytes', is: 'more', value: 1_000_000 }]);
  const either = await ask([]);
  const path = join(tray, 'Asked', 'agreement LN-2026-002.pdf');
  await copyFile('demo/agreements/agreement LN-2026-002.pdf', path);
  await hearFile(t.db, path, 'came');
  await writeFile(join(tray, 'Asked', 'torn.pdf'), '%PDF-1.7 torn');
  await hearFile(t.db, join(tray, 'Asked', 'torn.pdf'), 'came');
  await settle();
  expect(await either()).toEqual(Array(2).fill('its sentence says to stop here'));
  expect((await bytes()).every((why) => /^it has [\d,]+ bytes$/.test(why!))).toBe(true);
  expect((await pages())[0]).toBe('its number of pages is not known');
  await rm(join(tray, 'Asked'), { recursive: true });
});

test('what is kept secret is told neither by what is asked nor by what is written, and is sent to nobody', async () => {
  const g = await garden();
  const { columns } = await t.db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', g.list)
    .executeTakeFirstOrThrow();
  await t.db
    .updateTable('lists')
    .set({
      columns: JSON.stringify(columns.map((c) => (c.name === 'Bed' ? { ...c, secret: true } : c))),
    })
    .where('id', '=', g.list)
    .execute();
  const bed = column(idOf(g, 'Bed'));
  for (const [steps, words] of [
    [
      [{ kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [bed] }],
      'Bed is secret, so it cannot be written to Address',
    ],
    [
      [
        {
          kind: 'call',
          id: 'a',
          to: [text('https://vault.example/')],
          fields: [{ name: 'bed', parts: [bed] }],
        },
      ],
      'Bed is secret, so it cannot be sent',
    ],
  ] as const)
    await expect(on(came(g.list), [...steps])).rejects.toThrow(words);
  const id = await on(
    came(g.list),
    [{ kind: 'write', id: 'a', column: idOf(g, 'Bed'), parts: [text('hidden dune')] }],
    {
      conditions: {
        all: true,
        list: [{ of: 'column', column: idOf(g, 'Bed'), is: 'is', value: 'South 1' }],
      },
    },
  );
  await add(g, 'A-30', 'Thrift', 'salt meadow');
  await add(g, 'A-31', 'Thrift', 'South 1');
  await settle();
  const log = JSON.stringify(await firings(id));
  expect(log).toContain('its Bed is something else');
  expect(log).toContain('wrote a secret value to Bed');
  expect(log).not.toMatch(/hidden dune|salt meadow/);
});

test('whatever orders there are and whatever happens, every event comes to one end of each order that waits for it, and none wakes itself', async () => {
  const columnNames = ['Plant', 'Bed', 'Address'] as const;
  const orders = fc.array(
    fc.record({
      on: fc.uniqueArray(fc.constantFrom('came' as const, 'changed' as const, 'went' as const), {
        minLength: 1,
      }),
      asks: fc.constantFrom(undefined, 'filled' as const, 'blank' as const),
      to: fc.constantFrom(...columnNames),
      from: fc.constantFrom(...columnNames),
      stops: fc.boolean(),
    }),
    { minLength: 1, maxLength: 3 },
  );
  const events = fc.array(
    fc.record({
      what: fc.constantFrom('add' as const, 'change' as const, 'remove' as const, 'undo' as const),
      column: fc.constantFrom(...columnNames),
      value: fc.constantFrom('', 'x', 'North'),
      // how many workers go on with orders at the same time
      hands: fc.integer({ min: 0, max: 2 }),
    }),
    { minLength: 1, maxLength: 6 },
  );
  await fc.assert(
    fc.asyncProperty(orders, events, async (some, happens) => {
      await t.db.deleteFrom('standing_orders').execute();
      await t.db.deleteFrom('order_events').execute();
      const g = await garden();
      for (const [i, one] of some.entries())
        await on(
          came(g.list, one.on),
          [
            ...(one.stops
              ? []
              : [{ kind: 'link', id: 'l', to: [text('https://garden.example/')] }]),
            ...(one.on.includes('went')
              ? [{ kind: 'link', id: 'm', to: [text('https://garden.example/')] }]
              : [
                  {
                    kind: 'write',
                    id: 'a',
                    column: idOf(g, one.to),
                    parts: [column(idOf(g, one.from)), text('.')],
                  },
                ]),
          ],
          {
            conditions: {
              all: true,
              list: one.asks ? [{ of: 'column', column: idOf(g, 'Bed'), is: one.asks }] : [],
            },
          },
          `Order ${i}`,
        );
      for (const { what, column: name, value, hands } of happens) {
        const records = await t.db
          .selectFrom('records')
          .select('id')
          .where('list_id', '=', g.list)
          .orderBy('id')
          .execute();
        const [first] = records;
        if (what === 'add') await add(g, `N-${records.length}-${value}`, 'Thrift', value);
        else if (what === 'undo') await stepBack(t.db, g.list, 'undo', 'Wren');
        else if (first && what === 'change') await change(g, first.id, name, value);
        else if (first) await removeRecords(t.db, g.list, [first.id], 'Wren');
        await Promise.all([
          ...Array.from({ length: hands }, () => tellOrders(t.db)),
          ...Array.from({ length: hands }, () => fireOne(t.db)),
        ]);
      }
      await settle();
      const { rows } = await sql<{ own: boolean; ends: number; state: string }>`
        select f.state, f.order_id = any(e.chain) as own,
          (select count(*)::int from order_firings g where g.order_id = f.order_id and g.event_id = f.event_id) as ends
        from order_firings f join order_events e on e.id = f.event_id`.execute(t.db);
      for (const row of rows) {
        expect(row.ends).toBe(1);
        expect(['done', 'stopped', 'failed']).toContain(row.state);
        if (row.own) expect(row.state).toBe('stopped');
      }
      // each event of each order that waits for it is in the log
      const told = await t.db.selectFrom('order_events').selectAll().execute();
      const documents = await t.db
        .selectFrom('standing_orders')
        .select(['id', 'document'])
        .execute();
      const wanted = told.flatMap((event) =>
        documents.filter(
          ({ document }) =>
            document.when.kind === 'record' && document.when.on.includes(event.change as 'came'),
        ),
      );
      expect(rows).toHaveLength(wanted.length);
      expect(told.every((event) => event.told_at !== null)).toBe(true);
    }),
    { numRuns: 15 },
  );
}, 120_000);

test('an empty row is no record yet: it comes once its key is there, and is not what changes meanwhile', async () => {
  const g = await garden();
  const id = await on(came(g.list, ['came', 'changed']), [
    { kind: 'write', id: 'a', column: idOf(g, 'Address'), parts: [text('seen')] },
  ]);
  const [record] = await addRecords(t.db, g.list, [{}], 'Wren');
  await settle();
  await change(g, record!, 'Plant', 'Samphire');
  await settle();
  expect(await firings(id)).toEqual([]);
  await change(g, record!, 'No', 'A-9');
  await settle();
  const log = (await firings(id)).filter((f) => f.state === 'done');
  expect(log).toHaveLength(1);
  await change(g, record!, 'Bed', 'West 1');
  await settle();
  expect((await firings(id)).filter((f) => f.state === 'done')).toHaveLength(2);
});

test('what a file brought is what goes out: never an earlier one of its key, and not one in doubt', async () => {
  const g = await garden();
  const agreement = async (words: string) => {
    const document = await PDFDocument.create();
    document.addPage([420, 595]).drawText(words, { x: 60, y: 400, size: 12 });
    return Buffer.from(await document.save());
  };
  const set = await startSet(t.db, 'agreements', 'test');
  await keepPdf(t.db, set, 'A-1 first.pdf', await agreement('the first one'), 'test');
  const { version, document } = await viewJob(t.db, g.id);
  const ground = {
    ...{ kind: 'pdfs', set, name: 'agreements', knownBy: 'name', column: idOf(g, 'No') },
    ...{ said: [], stamp: document.stamps[0]!.id, sizeMm: 18, corner: 'bottom right' },
    ...{ acrossMm: 12, downMm: 12, pages: 'first' },
  } as unknown as PdfsGround;
  const put = async (said: PdfsGround['said']) => {
    const now = await viewJob(t.db, g.id);
    const piece = { ...document.piece, ground: { ...ground, said } };
    const changed = { version: now.version, document: { ...now.document, piece } };
    await changeJob(t.db, g.id, changed, 'test');
  };
  expect(version).toBeGreaterThan(0);
  await put([]);
  // the very same file under another name is not a second one
  const id = await on({ kind: 'document', folder: '', again: true, list: g.list }, [
    { kind: 'take', id: 'a', job: g.id },
    { kind: 'make', id: 'b', job: g.id, output: 'pdfs-one', which: 'record' },
    { kind: 'out', id: 'c', folder: 'Agreements' },
  ]);
  const again = join(tray, 'A-1 again.pdf');
  const { rows: first } = await t.pool.query<{ id: number }>(
    'select id from documents where set_id = $1',
    [set],
  );
  await writeFile(again, await documentBytes(t.db, first[0]!.id, 'pdf'));
  await hearFile(t.db, again, 'came');
  await settle();
  expect((await firings(id))[0]!.state).toBe('done');
  expect(await readdir(join(tray, 'Out-tray', 'Agreements'))).toHaveLength(1);
  await rm(join(tray, 'Out-tray', 'Agreements'), { recursive: true });
  await rm(again);
  const path = join(tray, 'A-1 second.pdf');
  await writeFile(path, await agreement('the second one'));
  await hearFile(t.db, path, 'came');
  await settle();
  const [doubt] = await firings(id);
  expect([doubt!.state, doubt!.steps.at(-1)!.words]).toEqual([
    'failed',
    expect.stringContaining('There are 2 PDFs for this record, A-1 second.pdf among them'),
  ]);
  expect(await readdir(join(tray, 'Out-tray', 'Agreements')).catch(() => [])).toEqual([]);
  // a person looks, and gives the record the newer one: the earlier is kept, and not used
  const rows = await t.db
    .selectFrom('documents')
    .select(['id', 'name'])
    .where('set_id', '=', set)
    .execute();
  const second = rows.find((row) => row.name === 'A-1 second.pdf')!;
  const record = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', g.list)
    .orderBy('position')
    .executeTakeFirstOrThrow();
  await put([{ document: second.id, record: record.id }]);
  expect(rows).toHaveLength(2);
  await againFrom(doubt!.id);
  await settle();
  const files = await readdir(join(tray, 'Out-tray', 'Agreements'));
  expect(files).toHaveLength(1);
  const words = pdfText(await readFile(join(tray, 'Out-tray', 'Agreements', files[0]!)));
  expect(words).toContain('the second one');
  expect(words).not.toContain('the first one');
  await rm(path);
});

/** Does a firing again from the step that failed. */
async function againFrom(firing: number): Promise<void> {
  await t.db
    .updateTable('order_firings')
    .set({ state: 'waiting', due_at: new Date(0), ended_at: null, tries: 0 })
    .where('id', '=', firing)
    .execute();
}

test('an order with a job of another list cannot be switched on, and says which', async () => {
  const [own, other] = [await garden(), await garden()];
  const make = { kind: 'make', id: 'a', job: other.id, output: 'pdf', which: 'record' };
  await expect(on(came(own.list), [make])).rejects.toThrow(
    /belongs to the list .*, and this order uses another/,
  );
  await expect(on(came(own.list), [{ ...make, job: 2_000_000 }])).rejects.toThrow(/was deleted/);
  await expect(
    on(came(own.list), [{ kind: 'picture', id: 'a', job: own.id, stamp: 'none' }]),
  ).rejects.toThrow(/stamp .* was deleted/);
  await on(came(own.list), [{ ...make, job: own.id }]);
  // what makes all that is ready may be of any list
  await on(came(own.list), [{ ...make, which: 'ready' }]);
});

test('many runs of one order are one notice', async () => {
  const g = await garden();
  await on(came(g.list), [{ kind: 'make', id: 'a', job: g.id, output: 'pdf', which: 'record' }]);
  for (const no of ['M-1', 'M-2', 'M-3']) await add(g, no, `Plant ${no}`);
  await settle();
  const runs = await t.db.selectFrom('runs').select('state').where('job_id', '=', g.id).execute();
  expect(runs.map((r) => r.state)).toEqual(['done', 'done', 'done']);
  const letters = await t.db
    .selectFrom('letters')
    .select(['subject', 'body'])
    .where('job_id', '=', g.id)
    .execute();
  expect(letters).toEqual([
    {
      subject: 'The standing order Order: 3 runs are done',
      body: expect.stringContaining('3 pieces in all. All 3 codes read back.') as string,
    },
  ]);
});
