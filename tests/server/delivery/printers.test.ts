import { printerAdapter } from '../../../src/server/delivery/adapters';
import { goBy } from '../../../src/server/platform/clock';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { sql } from 'kysely';
import { afterAll, beforeAll, beforeEach, expect, test } from 'vitest';
import { restocked } from '../../../src/core/piece/restock';
import { stockById } from '../../../src/core/piece/stock';
import {
  askPrinterAgain,
  addPrinter,
  changePrinter,
  listPrinters,
  removePrinter,
  sendToPrinter,
  stopPrint,
} from '../../../src/server/delivery';
import { stepPrint } from '../../../src/server/delivery/printing';
import { readFilePieces } from '../../../src/server/platform/files';
import { changeJob, viewJob } from '../../../src/server/jobs';
import { viewRun } from '../../../src/server/runs';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { ippPrinter, type TestPrinter, until } from '../../helpers/ipp-printer';
import { runsIn } from '../../helpers/runs';

/** Prints on real printers: Debian's, over this computer's network. */
let t: TestDatabase;
let hut: TestPrinter;
let run: number;
let onA4: number;
let pdf: Buffer;
let printer: number;
beforeAll(async () => {
  t = await testDatabase();
  hut = await ippPrinter();
  await allowPrivate('yes');
  const made = runsIn(() => t);
  const { id } = await made.job(['No'], ['key'], [['1'], ['2'], ['3']]);
  const print = (name: string) => made.run(id, { name, which: 'ready', ticked: [] });
  onA4 = await print('Badges');
  const { version, document } = await viewJob(t.db, id);
  const elements = restocked(document.piece, stockById('a4-21'), stockById('letter-30'));
  const piece = { ...document.piece, stock: 'letter-30', elements };
  await changeJob(t.db, id, { version, document: { ...document, piece } }, 'test');
  run = await print('Badges für Åse');
  const { files } = await viewRun(t.db, run);
  const parts: Uint8Array[] = [];
  const file = files.find((f) => f.name.endsWith('.pdf'))!;
  for await (const part of readFilePieces(t.db, file.id)) parts.push(part);
  pdf = Buffer.concat(parts);
  printer = await add('Hut', hut.address);
});
afterAll(async () => {
  await hut.close();
  await t.close();
});
beforeEach(async () => {
  await t.db.deleteFrom('print_jobs').execute();
});

const allowPrivate = (value: string) =>
  t.db
    .insertInto('settings')
    .values({ name: 'door.private', value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
async function add(name: string, address: string): Promise<number> {
  await addPrinter(t.db, {
    ...{ name, address, dpi: 300, offsetX: 0, offsetY: 0, finest: null },
    ...{ faults: [], intoTray: false },
  });
  return (await view(name)).id;
}
const view = async (name = 'Hut') => (await listPrinters(t.db, true)).find((p) => p.name === name)!;
const job = async () => (await view()).jobs[0]!;
const step = async (n = 1) => {
  const { id } = await job();
  for (let i = 0; i < n; i++) await stepPrint(t.db, id);
};
const followed = async (state: string) => {
  const { id } = await job();
  await until(async () => {
    await stepPrint(t.db, id);
    return (await job()).state === state;
  });
};
const since = (before: number) => hut.printed().slice(before);

test('a printer says what it is; a run comes out byte for byte, once, whatever asks for it twice', async () => {
  const { facts, dpi, trouble } = await view();
  expect(trouble).toBeNull();
  expect(facts).toMatchObject({ takesPdf: true, dpi: [600], trouble: null });
  expect(facts!.loaded[0]).toEqual({
    width: expect.closeTo(215.9, 1) as number,
    height: expect.closeTo(279.4, 1) as number,
  });
  expect(facts!.blank!.left).toBeCloseTo(3.4);
  expect(facts!.papers.length).toBeGreaterThan(3);
  expect(dpi).toBe(600);
  const before = hut.printed().length;
  expect(await sendToPrinter(t.db, printer, { run })).toEqual({
    sent: true,
    against: [],
    waits: null,
  });
  await expect(sendToPrinter(t.db, printer, { run })).rejects.toThrow(
    'is already being sent to Hut',
  );
  expect(await job()).toMatchObject({ state: 'waiting', sheets: 1 });
  const { id } = await job();
  await Promise.all([1, 2, 3].map(() => stepPrint(t.db, id)));
  await followed('printed');
  expect(since(before)).toEqual([pdf]);
  expect(await job()).toMatchObject({ printed: 1, reason: '' });
  // a finished job stays finished
  await stepPrint(t.db, id);
  await stopPrint(t.db, id);
  await stepPrint(t.db, id);
  expect((await job()).state).toBe('printed');
  expect(since(before)).toHaveLength(1);
});

test('a process that ends before it hears the answer: what was taken is not sent again, what was not is', async () => {
  const before = hut.printed().length;
  await sendToPrinter(t.db, printer, { run });
  await step();
  const { id } = await job();
  // as if it had ended after the printer took it and before that was kept
  await t.db
    .updateTable('print_jobs')
    .set({ state: 'sending', job_there: null })
    .where('id', '=', id)
    .execute();
  await followed('printed');
  expect(since(before)).toHaveLength(1);
  // as if it had ended before it sent anything
  await sendToPrinter(t.db, printer, { run });
  await t.db
    .updateTable('print_jobs')
    .set({ state: 'sending', began_at: sql<Date>`now() + interval '1 minute'` })
    .where('id', '=', (await job()).id)
    .execute();
  await followed('printed');
  expect(since(before)).toHaveLength(2);
});

test('where nobody can know whether it came out, it is not sent again', async () => {
  const before = hut.printed().length;
  await sendToPrinter(t.db, printer, { run });
  const { id } = await job();
  await t.db
    .updateTable('print_jobs')
    .set({ state: 'sending', began_at: sql<Date>`now() - interval '1 hour'` })
    .where('id', '=', id)
    .execute();
  await step(3);
  expect(await job()).toMatchObject({
    state: 'unsure',
    reason: expect.stringContaining('Check whether it was printed') as string,
  });
  expect(since(before)).toHaveLength(0);
});

test('a number that is somebody else’s by now is not followed, and not called off', async () => {
  const before = hut.printed().length;
  await sendToPrinter(t.db, printer, { run });
  await step();
  const { id } = await job();
  hut.paper(false);
  // as if the printer had restarted its numbers, and another job had this one
  await t.db
    .updateTable('print_jobs')
    .set({ state: 'printing', name_there: 'HS-0000000000 another', stopped_at: new Date() })
    .where('id', '=', id)
    .execute();
  await step();
  expect(await job()).toMatchObject({ state: 'unsure' });
  hut.paper(true);
  // it comes out; the next test counts what does
  await until(() => hut.printed().length > before);
});

test('a printer that is off gets it when it is on; one out of paper says so; what is called off ends', async () => {
  const before = hut.printed().length;
  await hut.off();
  const sent = await sendToPrinter(t.db, printer, { run });
  expect(sent).toMatchObject({
    sent: true,
    waits: expect.stringContaining('not answer') as string,
  });
  await step(2);
  expect(await job()).toMatchObject({
    state: 'waiting',
    reason: 'it does not answer; Hand Stamp will try again',
  });
  expect((await view()).trouble).toBe('it does not answer');
  hut.paper(false);
  await hut.on();
  await followed('held');
  expect((await job()).reason).toBe('it is out of paper');
  await expect(removePrinter(t.db, printer)).rejects.toThrow('being sent');
  const known = { name: 'Hut', dpi: 600, offsetX: 0, offsetY: 0, finest: null };
  const moved = { ...known, address: 'ipp://localhost:9/ipp', faults: [], intoTray: false };
  await expect(changePrinter(t.db, printer, moved)).rejects.toThrow('being sent');
  hut.paper(true);
  await followed('printed');
  expect(since(before)).toEqual([pdf]);
  hut.paper(false);
  await sendToPrinter(t.db, printer, { run });
  await followed('held');
  await stopPrint(t.db, (await job()).id);
  hut.paper(true);
  await until(async () => {
    await step();
    return ['stopped', 'printed'].includes((await job()).state);
  });
  // before anything is handed over, it ends at once
  await sendToPrinter(t.db, printer, 'test page');
  await stopPrint(t.db, (await job()).id);
  await step();
  expect(await job()).toMatchObject({ name: 'Test page of Hut', state: 'stopped', printed: 0 });
});

test('what does not fit is told and not sent, unless it is to be', async () => {
  const against = expect.stringMatching(
    /^It is loaded with Letter and .*, and this run is for A4\.$/,
  ) as string;
  const before = hut.printed().length;
  expect(await sendToPrinter(t.db, printer, { run: onA4 })).toEqual({
    sent: false,
    against: [against],
    waits: null,
  });
  expect((await view()).jobs).toEqual([]);
  expect(await sendToPrinter(t.db, printer, { run: onA4 }, true)).toMatchObject({ sent: true });
  // what waited for a printer that was off is looked at when it is on
  const { id } = await job();
  await t.db.updateTable('print_jobs').set({ anyway: false }).where('id', '=', id).execute();
  await step();
  expect(await job()).toMatchObject({
    state: 'failed',
    reason: expect.stringContaining('Nothing was sent. It is loaded with') as string,
  });
  expect(since(before)).toEqual([]);
  await sendToPrinter(t.db, printer, { run: onA4 }, true);
  await followed('printed');
  expect(since(before)).toHaveLength(1);
});

test('only what may be asked is asked, and what answers there may say what it likes', async () => {
  await allowPrivate('no');
  await expect(sendToPrinter(t.db, printer, { run })).rejects.toThrow('not public');
  await allowPrivate('yes');
  let answer: Uint8Array = Buffer.alloc(0);
  let status = 200;
  const server = createServer((request, response) => {
    request.resume().on('end', () => {
      response.statusCode = status;
      response.end(answer);
    });
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  const { port } = server.address() as AddressInfo;
  try {
    const odd = await add('Odd', `http://localhost:${port}/printers/odd`);
    const told = async (next: Uint8Array, code = 200) => {
      [answer, status] = [next, code];
      await askPrinterAgain(t.db, odd);
      return (await view('Odd')).trouble;
    };
    expect(await told(Buffer.from('<html>'))).toMatch(/not a printer|refused|it says/);
    expect(await told(Buffer.from('hello'), 404)).toContain(
      'not a printer, or not at this path (404)',
    );
    expect(await told(Buffer.from(''), 401)).toContain('wants a password');
    expect(await told(Buffer.alloc(5 * 1024 * 1024))).toContain('far too large');
    // a yes with nothing in it: a printer of which nothing is known
    expect(await told(Buffer.from('0200000000000001' + '03', 'hex'))).toBeNull();
    expect((await view('Odd')).facts).toMatchObject({ papers: [], blank: null, dpi: [] });
    // it says far too much, and what no database keeps
    const told10k = await told(
      Buffer.concat([
        Buffer.from('020000000000000104', 'hex'),
        attribute(0x41, 'printer-make-and-model', 'Odd\0one'),
        attribute(0x44, 'printer-state-reasons', 'what\0ever-error'),
        attribute(0x44, 'media-supported', 'custom_0_1x1mm'),
        ...Array.from({ length: 10_000 }, (_, i) => attribute(0x44, '', `custom_${i}_${i}x9mm`)),
        Buffer.from([0x03]),
      ]),
    );
    expect(told10k).toBeNull();
    const { facts } = await view('Odd');
    expect(facts).toMatchObject({ model: 'Oddone', trouble: 'it says “whatever”' });
    expect(facts!.papers.length).toBeLessThanOrEqual(400);
    await removePrinter(t.db, odd);
    expect(await view('Odd')).toBeUndefined();
  } finally {
    server.close();
  }
  expect((await listPrinters(t.db, false)).every((p) => p.address === null)).toBe(true);
});

/** An attribute as RFC 8010, 3.1.4 writes it; without a name, one more value of the one before. */
function attribute(tag: number, name: string, value: string): Buffer {
  const [n, v] = [Buffer.from(name), Buffer.from(value)];
  const head = Buffer.alloc(3 + n.length);
  head.writeUInt8(tag, 0);
  head.writeUInt16BE(n.length, 1);
  n.copy(head, 3);
  const size = Buffer.alloc(2);
  size.writeUInt16BE(v.length, 0);
  return Buffer.concat([head, size, v]);
}

test('a printer that does not answer for a day is not tried any more, and what it may have is said', async () => {
  await hut.off();
  try {
    await sendToPrinter(t.db, printer, { run });
    const sent = (await job()).id;
    goBy(() => Date.now() + 23 * 3_600_000);
    await step();
    expect(await job()).toMatchObject({ id: sent, state: 'waiting' });
    goBy(() => Date.now() + 24 * 3_600_000 + 1_000);
    await step();
    expect(await job()).toMatchObject({
      id: sent,
      state: 'failed',
      reason: 'Nothing was sent: it does not answer, for a day.',
    });
    // a job it had accepted may still be printed
    goBy();
    await sendToPrinter(t.db, printer, { run });
    await t.db
      .updateTable('print_jobs')
      .set({ state: 'printing', job_there: 7 })
      .where('id', '=', (await job()).id)
      .execute();
    goBy(() => Date.now() + 24 * 3_600_000 + 1_000);
    await step();
    expect(await job()).toMatchObject({
      state: 'unsure',
      reason:
        'The printer no longer answers. Check whether it was printed before you send it again.',
    });
  } finally {
    goBy();
    await hut.on();
  }
});

test('each way to print is taken for the printers that are reached by it', async () => {
  const way = (address: string | null, into_tray: boolean) =>
    printerAdapter({ address, into_tray });
  const network = way('ipp://hut.example/ipp', false);
  expect(way('ipp://hut.example/ipp', true)).toBe(network);
  expect(way(null, true)).not.toBe(network);
  expect([network.steps, way(null, true).steps, way(null, false).steps]).toEqual([
    true,
    true,
    false,
  ]);
  // a test printer accepts everything and waits for nothing
  const sheet = {
    page: { width: 5000, height: 9 },
    free: { left: 0, right: 0, top: 0, bottom: 0 },
    dpi: [9000],
  };
  for (const into of [true, false])
    expect(
      await way(null, into).before(t.db, { id: 0, name: 'Desk', address: null }, sheet, false),
    ).toEqual({ against: [], waits: null });
});
