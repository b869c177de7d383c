import { PDFDocument } from '@cantoo/pdf-lib';
import { docx, paragraph, run as textRun, table } from '../../demo/docx';
import { findInDocument, keepDocument } from '../../src/server/documents';
import { changeJob, viewJob } from '../../src/server/jobs';
import { createList } from '../../src/server/lists';
import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import * as contract from '../../src/contract';
import {
  addressOf,
  allRoutes,
  type OrderView,
  type PeopleView,
  type Route,
} from '../../src/contract';
import { firstWelcome } from '../../src/server/access';
import { defaultLook } from '../../src/core/look/look';
import { answer } from '../../src/server/routes';
import { seal } from '../../src/server/platform/sealed';
import { mailServer, mailSettings } from '../helpers/mail-server';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { signedIn, type Signed } from '../helpers/people';
import { runsIn, workOff } from '../helpers/runs';

/**
 * Calls every handler once as the interface does, with a real database. Each answer is checked
 * against the contract on its way out, so that an answer that differs is a 500 here.
 */
let t: TestDatabase;
let tray: string;
let keeper: Signed;
beforeAll(async () => {
  tray = mkdtempSync(join(tmpdir(), 'tray-'));
  writeFileSync(join(tray, 'lamps.csv'), 'No,Name\n1,Lamp\n');
  process.env.HAND_STAMP_TRAY = tray;
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
  keeper = await signedIn(t.db, 'administrator');
});
afterAll(async () => {
  rmSync(tray, { recursive: true, force: true });
  await t.close();
});
const { job, run } = runsIn(() => t);
const work = () => workOff(t);

interface Call {
  params?: Record<string, string | number>;
  query?: Record<string, string | number>;
  body?: unknown;
  bytes?: string | Uint8Array;
  /** The key of a program that asks. */
  key?: string;
  /** The status, if it is not 200. */
  is?: number;
}
const asked = new Set<string>();

async function call(route: Route, { params = {}, query, body, bytes, key, is = 200 }: Call = {}) {
  const request = new Request(`http://localhost${addressOf(route, { params, query })}`, {
    method: route.method,
    body:
      (bytes as BodyInit | undefined) ?? (body === undefined ? undefined : JSON.stringify(body)),
    headers: {
      'content-type': bytes === undefined ? 'application/json' : 'application/octet-stream',
      'x-file-name': 'sent.svg',
      host: 'localhost',
      cookie: keeper.cookie,
      ...(key ? { authorization: `Bearer ${key}` } : {}),
    },
  });
  const response = await answer(request);
  const type = response.headers.get('content-type') ?? '';
  const text = type === 'text/event-stream' ? '' : await response.text();
  expect([route.method, route.path, response.status, response.status === is ? '' : text]).toEqual([
    route.method,
    route.path,
    is,
    '',
  ]);
  if ('files' in route.answer && is === 200) expect(route.answer.files).toContain(type);
  asked.add(`${route.method} ${route.path}`);
  return response.status === 200 && type.includes('json')
    ? (JSON.parse(text) as Record<string, never>)
    : ({ response } as unknown as Record<string, never>);
}

/** An address for the first person, though there are others. */
async function firstOne(): Promise<string> {
  const { id } = await t.db
    .selectFrom('people')
    .select('id')
    .where('id', '=', keeper.id)
    .executeTakeFirstOrThrow();
  expect(await firstWelcome(t.db, 'http://localhost')).toBeUndefined();
  const token = 'first-of-all';
  await t.db
    .insertInto('welcomes')
    .values({
      token_hash: createHash('sha256').update(token).digest('hex'),
      kind: 'first',
      right: 'administrator',
      person_id: null,
      made_by: id,
      expires_at: new Date(Date.now() + 60_000),
    })
    .execute();
  return `http://localhost/welcome/${token}`;
}

const svg =
  '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>';

test('jobs and what they show', async () => {
  const { id, list } = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['P-1', 'Wren'],
      ['P-2', 'Tam'],
    ],
  );
  const params = { id };
  const view = await call(contract.viewJob, { params });
  await call(contract.listJobs);
  await call(contract.changeJob, { params, body: { version: view.version, name: 'Named' } });
  const { rows } = await call(contract.jobRows, { params });
  const [first] = rows as unknown as { id: number }[];
  await call(contract.jobRowIds, { params, query: { q: 'Wren' } });
  await call(contract.jumpInJob, { params, query: { to: 'longest' } });
  const news = await call(contract.jobNews, { params });
  await (news.response as unknown as Response).body!.cancel();
  await call(contract.symbologyFits, { params, query: { stamp: 'stamp-1' } });
  await call(contract.viewDoor, { params, query: { stamp: 'stamp-1' } });
  await call(contract.askDoor, { params, body: { stamp: 'stamp-1' } });
  await call(contract.stopAskingDoor, { params });
  const { stamps } = view.document! as { stamps: object[] };
  await call(contract.sealedSymbols, { body: { stamp: stamps[0], records: [first!.id] } });
  await call(contract.giveAddresses, { params, body: { stamp: 'stamp-1' } });
  const address = await call(contract.viewAddresses, {
    params,
    query: { stamp: 'stamp-1', record: first!.id },
  });
  await call(contract.addressesFile, { params, query: { stamp: 'stamp-1' } });
  await call(contract.codePicture, { params: { name: `${String(address.token)}.svg` } });
  await call(contract.withdrawAddresses, { params, body: { stamp: 'stamp-1' } });
  await call(contract.codePicture, { params: { name: `${String(address.token)}.svg` }, is: 410 });
  await call(contract.proveRun, {
    params,
    body: { sheet: 0, run: { name: 'x', which: 'with-code' } },
  });
  await call(contract.quickPrint, { params, body: { stamp: 'stamp-1', records: [first!.id] } });
  const other = await call(contract.addJob, { params: { id: list }, body: { name: 'Another' } });
  await call(contract.stepJob, { params, body: { direction: 'undo' } });
  await call(contract.removeJob, { params: { id: Number(other.id) } });
  await call(contract.viewJob, { params: { id: Number(other.id) }, is: 404 });
});

test('runs and what they made', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], [['P-1', 'Wren']]);
  const params = { id };
  const made = await run(id);
  const again = await call(contract.startRun, {
    params,
    body: { name: 'Second', which: 'with-code' },
  });
  await call(contract.listRuns, { params });
  await call(contract.finishRun, { params: { id: Number(again.id) }, is: 409 });
  await call(contract.cancelRun, { params: { id: Number(again.id) } });
  const of = { params: { id: made } };
  const view = await call(contract.viewRun, of);
  await call(contract.runPages, of);
  await call(contract.readPaper, {
    ...of,
    body: { pictures: [{ name: 'a.png', codes: [{ text: 'x', x: 0, y: 0 }] }] },
  });
  await call(contract.readPaperFile, {
    ...of,
    bytes: Buffer.from('%PDF-1.4 not really'),
  });
  await call(contract.listPaperFiles, of);
  await call(contract.listTrayPaper);
  await call(contract.paperSheet, { ...of, query: { page: 1 } });
  await call(contract.paperSheet, { ...of, query: { page: 99 }, is: 404 });
  await call(contract.runLines, { ...of, query: { page: 1 } });
  await call(contract.runLines, of);
  for (const as of ['csv', 'json', 'pdf'])
    await call(contract.runReceipt, { params: { id: made }, query: { as } });
  const files = view.files as unknown as { id: number }[];
  await call(contract.runFile, { params: { id: files[0]!.id } });
  const third = await call(contract.runAgain, of);
  await work();
  await call(contract.compareRuns, { ...of, query: { with: Number(third.id) } });
  await call(contract.addPrinter, {
    body: { name: 'Shed', dpi: 300, offsetX: 0, offsetY: 0, finest: null },
  });
  const { printers } = await call(contract.listPrinters);
  const printer = { id: (printers as unknown as { id: number }[])[0]!.id };
  await call(contract.changePrinter, {
    params: printer,
    body: { name: 'Shed', dpi: 600, offsetX: 1, offsetY: 0, finest: 3 },
  });
  await call(contract.sendToPrinter, { params: printer, body: { run: made } });
  await call(contract.printerTestPage, { params: printer });
  await call(contract.printTestPage, { params: printer });
  await call(contract.readTestPage, {
    params: printer,
    body: { texts: ['Shed: 12 dots a module, 0.508 mm', 'Shed: 11 dots a module, 0.466 mm'] },
  });
  // a test device has no address to ask
  await call(contract.askPrinter, { params: printer, is: 404 });
  const sent = await call(contract.listPrinters);
  const [job0] = (sent.printers as unknown as { jobs: { id: number }[] }[])[0]!.jobs;
  await call(contract.stopPrintJob, { params: { id: job0!.id } });
  await call(contract.removePrinter, { params: printer });
  await call(contract.listLetters);
  await call(contract.removeRun, of);
  await call(contract.viewRun, { ...of, is: 404 });
});

test('lists, their columns, problems and revisions', async () => {
  const { list } = await job(
    ['No', 'Name', 'Photo'],
    ['key', 'name', 'text'],
    [
      ['P-1', ' Wren', 'a.svg'],
      ['P-2', 'Tam', 'b.svg'],
    ],
  );
  const params = { id: list };
  await call(contract.listLists);
  await call(contract.listLookups);
  await call(contract.renameList, { params, body: { name: 'People, anew' } });
  const { ids } = await call(contract.addRecords, { params, body: { records: [{ c1: 'P-3' }] } });
  const [added] = ids as unknown as number[];
  await call(contract.editCells, {
    params,
    body: { edits: [{ record: added, column: 'c2', value: 'Ines' }] },
  });
  await call(contract.editCells, {
    params,
    body: { edits: [{ record: added, column: 'c2', value: 'Ada', from: 'another' }] },
    is: 409,
  });
  const worked = { source: { kind: 'join', parts: [{ kind: 'column', column: 'c2' }] }, steps: [] };
  const made = await call(contract.keepWorkedColumn, { params, body: { name: 'Again', worked } });
  await call(contract.previewWorked, {
    params,
    body: { worked, id: String(made.id), record: added },
  });
  await call(contract.removeWorkedColumn, { params, query: { column: String(made.id) } });
  await call(contract.changeColumn, { params, body: { does: 'rename', id: 'c3', name: 'File' } });
  await call(contract.listProblems, { params, query: { kind: 'spaces' } });
  await call(contract.mendProblems, { params, body: { kind: 'spaces' } });
  const { revisions } = await call(contract.listRevisions, { params });
  const [latest] = revisions as unknown as { number: number }[];
  const revision = { id: list, number: latest!.number };
  await call(contract.viewRevision, { params: revision });
  await call(contract.turnRevision, { params: revision, body: { direction: 'undo' } });
  await call(contract.stepList, { params, body: { direction: 'undo' } });
  await call(contract.removeRecords, { params, body: { ids: [added] } });
  await call(contract.redrawPicture, { bytes: svg });
  await call(contract.addListPicture, { params, bytes: svg });
  await call(contract.listPictureNames, { params });
  await call(contract.viewListPicture, { params, query: { name: 'sent.svg' } });
  await call(contract.fetchListPictures, { params, body: { column: 'c3' } });
  await call(contract.readListAgain, { params, is: 400 });
  await call(contract.removeList, { params });
});

test('what comes in', async () => {
  await call(contract.viewTray);
  const sent = await call(contract.startIntake, { bytes: 'No,Name\n1,Wren\n2,Tam\n' });
  const params = { id: Number(sent.id) };
  await call(contract.viewIntake, { params });
  await work();
  await call(contract.viewIntake, { params });
  await call(contract.readIntakeAs, {
    params,
    body: { encoding: 'utf-8', separator: ',' },
  });
  await work();
  await call(contract.takeIntake, {
    params,
    body: { sheet: 0, headerRow: 0, roles: ['key', 'name'], name: 'Taken' },
  });
  await work();
  const taken = await call(contract.viewIntake, { params });
  expect(taken.state).toBe('taken');
  const again = await call(contract.startIntake, {
    bytes: 'No,Name\n1,Wren\n3,Ines\n',
    query: { list: Number(taken.list_id ?? 0) || (await lastList()) },
  });
  await work();
  const reread = { params: { id: Number(again.id) } };
  await call(contract.intakeRows, reread);
  await call(contract.sayIntakeSame, { ...reread, body: {} });
  await work();
  await call(contract.takeIntake, { ...reread, body: { clashes: 'here', gone: 'out' } });
  await work();
  const dropped = await call(contract.startIntake, { body: { kind: 'tray', name: 'lamps.csv' } });
  await call(contract.dropIntake, { params: { id: Number(dropped.id) } });
  await call(contract.startTypedList, { body: { name: 'Typed', purpose: 'text' } });
  await call(contract.blankSheet, { query: { purpose: 'text', as: 'csv' } });
});

const lastList = async () =>
  (
    await t.db
      .selectFrom('lists')
      .select('id')
      .orderBy('id', 'desc')
      .limit(1)
      .executeTakeFirstOrThrow()
  ).id;

test('what holds for all', async () => {
  await call(contract.health);
  await call(contract.viewSettings);
  await call(contract.changeSettings, { body: { doorPrivate: true } });
  const kept = await call(contract.keep, {
    body: { kind: 'look', name: 'Plain', document: defaultLook },
  });
  await call(contract.listKept, { query: { kind: 'look' } });
  await call(contract.forgetKept, { params: { id: Number(kept.id) } });
  await call(contract.typeface, { params: { key: 'noto' } });
  await call(contract.typefacePart, { params: { key: 'noto-jp', slice: 0x5c } });
  await call(contract.searchGuide, { query: { q: 'printer' } });
  await call(contract.guidePicture, { params: { name: 'run.png' } });
  // our own server may not be read, so a connection is refused, and one that is there is put there
  // by hand
  const { hostname, port, username, password } = new URL(t.url);
  const own = { name: 'Own', host: hostname, database: 'postgres', username };
  await call(contract.keepConnection, {
    body: { ...own, port: Number(port), password, tls: 'no' },
    is: 400,
  });
  const { id } = await t.db
    .insertInto('connections')
    .values({ ...own, port: Number(port), password: seal(password), tls: 'no', created_by: 'test' })
    .returning('id')
    .executeTakeFirstOrThrow();
  await call(contract.listConnections);
  await call(contract.listTables, { params: { id }, is: 400 });
  await call(contract.forgetConnection, { params: { id } });
});

test('documents, and PDFs that exist', async () => {
  const { id } = await job(['No', 'Name'], ['key', 'name'], [['P-1', 'Wren Halloran']]);
  const params = { id };
  const other = await createList(t.db, {
    name: 'Packets',
    source: 'p.csv',
    headings: ['Packet', 'Of'],
    roles: ['key', 'text'],
    rows: [['K-1', 'P-1']],
    note: '',
    actor: 'test',
  });
  const letter = docx({
    body: paragraph(textRun('For Wren Halloran')) + table([2000], [[paragraph(textRun('K-1'))]]),
  });
  await call(contract.viewTools);
  await call(contract.bringDocument, { bytes: 'no document', is: 400 });
  const document = await call(contract.bringDocument, { bytes: letter });
  const own = { id: Number(document.id) };
  await call(contract.viewDocument, { params: own });
  await call(contract.shownDocument, { params: own });
  const found = await call(contract.findInDocument, { params, body: { document: own.id } });
  const { record } = found.writtenFor as unknown as { record: number };
  await call(contract.findInRow, {
    params,
    body: { document: own.id, part: 'word/document.xml', row: 0, list: other.id, record },
  });
  await call(contract.findRows, { params, body: { record } });
  const set = await call(contract.startSet, { body: { name: 'agreements' } });
  const pdf = await PDFDocument.create();
  pdf.addPage([200, 300]);
  const inSet = { params: { id: Number(set.id) } };
  await call(contract.bringPdf, { ...inSet, bytes: 'no PDF', is: 400 });
  await call(contract.bringPdf, { ...inSet, bytes: await pdf.save() });
  writeFileSync(join(tray, 'lying.pdf'), await pdf.save());
  symlinkSync('/etc/passwd', join(tray, 'leads.pdf'));
  expect(await call(contract.listTrayPdfs)).toEqual({ names: ['lying.pdf'] });
  await call(contract.bringTrayPdf, { ...inSet, body: { name: 'lying.pdf' } });
  await call(contract.bringTrayPdf, { ...inSet, body: { name: '../x.pdf' }, is: 400 });
  await call(contract.bringTrayPdf, { ...inSet, body: { name: 'leads.pdf' }, is: 400 });
  await call(contract.listPdfs, { params });
  await call(contract.lookAgain, { params });
  const { id: kept } = await t.db
    .selectFrom('documents')
    .select('id')
    .where('kind', '=', 'pdf')
    .executeTakeFirstOrThrow();
  await call(contract.documentPage, { params: { id: kept, page: 0 } });
  await call(contract.documentPage, { params: { id: kept, page: 9 }, is: 404 });
  await call(contract.documentPage, { params: { ...own, page: 0 }, is: 404 });
  await call(contract.shownDocument, { params: { id: kept }, is: 404 });
});

test('mail, and what the stand-in took', async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  const post = await mailServer();
  const outTray = mkdtempSync(join(tmpdir(), 'out-tray-'));
  process.env.HAND_STAMP_OUT_TRAY = outTray;
  expect(await call(contract.viewMailServer)).toEqual({ server: null });
  await call(contract.tryMailServer, { body: { to: 'me@post.example' }, is: 400 });
  const server = mailSettings(post.port);
  await call(contract.changeMailServer, { body: { ...server, sender: 'nobody' }, is: 400 });
  await call(contract.changeMailServer, { body: server });
  await call(contract.tryMailServer, { body: { to: 'me@post.example' } });
  const made = await job(['No', 'E-mail'], ['key', 'email'], [['P-1', 'wren@post.example']]);
  const id = await run(made.id, { output: { kind: 'mail' } });
  const params = { id };
  await call(contract.listMails, { params });
  await call(contract.mailAccount, { params });
  await call(contract.stopMails, { params });
  await call(contract.sendMailsAgain, { params, body: { which: 'refused' }, is: 400 });
  await call(contract.sendMailsAgain, { params, body: { which: 'stopped' } });
  await work();
  expect(post.taken.map((m) => m.to)).toEqual(['me@post.example', 'wren@post.example']);
  const boundary = [
    'Content-Type: multipart/mixed; boundary=x\r\nSubject: <script>\r\nTo: a@post.example\r\n',
    '--x\r\nContent-Type: text/html\r\n\r\n<script>1</script>Hello',
    '--x\r\nContent-Type: text/plain\r\nContent-Disposition: attachment; filename="../x.txt"\r\n\r\nnote',
    '--x--',
  ].join('\r\n');
  writeFileSync(join(outTray, '1-a.eml'), boundary);
  writeFileSync(join(outTray, 'not ours'), 'x');
  const { messages } = (await call(contract.viewOutTray)) as unknown as {
    messages: { name: string }[];
  };
  expect(messages.map((m) => m.name)).toEqual(['1-a.eml']);
  await call(contract.viewMessage, { params: { name: '1-a.eml' } });
  await call(contract.viewMessage, { params: { name: '2-a.eml' }, is: 404 });
  await call(contract.viewMessage, { params: { name: '../../x.eml' }, is: 404 });
  await call(contract.messageFile, { params: { name: '1-a.eml', number: 0 } });
  await call(contract.messageFile, { params: { name: '1-a.eml', number: 9 }, is: 404 });
  delete process.env.HAND_STAMP_OUT_TRAY;
  expect(await call(contract.viewOutTray)).toEqual({ folder: null, all: 0, messages: [] });
  rmSync(outTray, { recursive: true, force: true });
  await post.close();
});

test('a page in HTML, as a mail would bring it', async () => {
  const { id, list } = await job(['No', 'Name'], ['key', 'name'], [['P-1', 'Wren Halloran']]);
  const bytes = '<html><p>For Wren Halloran</p></html>';
  const kept = await keepDocument(t.db, 'a.html', Buffer.from(bytes), 'test');
  const record = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .executeTakeFirstOrThrow();
  await call(contract.pageOfRecord, { params: { id, record: record.id }, is: 404 });
  await call(contract.shownDocument, { params: { id: kept.id } });
  const { places } = await findInDocument(t.db, id, { document: kept.id });
  const { version, document } = await viewJob(t.db, id);
  const ground = {
    kind: 'html' as const,
    document: kept.id,
    name: 'a.html',
    places,
    codes: [],
    blocks: [],
  };
  await changeJob(
    t.db,
    id,
    { version, document: { ...document, piece: { ...document.piece, ground } } },
    'test',
  );
  await call(contract.pageOfRecord, { params: { id, record: record.id } });
});

test('links, and where we are reached', async () => {
  const { list } = await job(['Bed'], ['key'], [['B-1']]);
  await call(contract.keepWorkedColumn, {
    params: { id: list },
    body: {
      name: 'Link',
      worked: {
        source: {
          kind: 'link',
          for: 'anyone',
          parts: [
            { kind: 'text', text: 'https://marrambay.example/' },
            { kind: 'column', column: 'c1' },
          ],
        },
        steps: [],
      },
    },
  });
  const made = await call(contract.makeLink, {
    body: { title: 'Map', to: 'https://marrambay.example/map' },
  });
  await call(contract.makeLink, { body: { title: 'Map', to: 'javascript:1' }, is: 400 });
  const code = String(made.code);
  expect(await call(contract.listLinks, { query: { filter: 'alone' } })).toMatchObject({ of: 1 });
  expect(await call(contract.listLinks, { query: { list } })).toMatchObject({ of: 1 });
  const links = { codes: [code] };
  const { batch } = await call(contract.changeLinks, {
    body: { links, change: { state: 'paused' } },
  });
  await call(contract.viewLink, { params: { code } });
  await call(contract.undoLinks, { body: { batch } });
  await call(contract.viewLink, { params: { code: 'nothing' }, is: 404 });
  await call(contract.previewLink, { params: { code } });
  await call(contract.followLink, { params: { code }, is: 302 });
  await call(contract.askLinks);
  expect(await call(contract.linkCounts)).toMatchObject({ all: 2, asking: { of: 2 } });
  await call(contract.stopAskingLinks);
  await call(contract.viewOurAddresses);
  expect(await call(contract.viewStandInProgram)).toEqual({ program: null });
  const body = { base: 'stamp.marrambay.example', links: '' };
  expect(await call(contract.tryOurAddresses, { body })).toMatchObject({ links: 2 });
  await call(contract.changeOurAddresses, { body });
  await call(contract.changeOurAddresses, {
    body: { base: 'https://a.example/path', links: '' },
    is: 400,
  });
  expect(await call(contract.changeOurAddresses, { body: { base: '', links: '' } })).toMatchObject({
    from: 'machine',
    former: ['https://stamp.marrambay.example'],
  });
});

test('records as pages, and what people fetch', async () => {
  const { id, list } = await job(['No'], ['key'], [['B-1']]);
  const params = { id: list };
  expect(await call(contract.viewPages, { params })).toEqual({ pages: null });
  const { pages } = (await call(contract.startPages, {
    params,
  })) as unknown as contract.PageSetView;
  expect(pages).toMatchObject({ count: 1, gone: 0, column: 'Own page' });
  const { version, document } = pages!;
  await call(contract.changePages, { params, body: { version, document } });
  await call(contract.changePages, { params, body: { version, document }, is: 409 });
  await call(contract.recordPage, { params: { id: pages!.sample!.split('/r/')[1]! } });
  await call(contract.recordPage, { params: { id: 'x' }, is: 404 });
  expect(await call(contract.viewOwnPage, { params: { id } })).toEqual({ page: null });
  const own = { open: true, title: 'Fetch', asked: ['c1'], gives: ['code' as const] };
  const { page } = (await call(contract.changeOwnPage, {
    params: { id },
    body: { version: 0, document: own },
  })) as unknown as contract.OwnPageView;
  await call(contract.changeOwnPage, {
    params: { id },
    body: { version: 0, document: own },
    is: 409,
  });
  const token = page!.address.split('/f/')[1]!;
  await call(contract.ownPage, { params: { token } });
  await call(contract.fetchOwn, { params: { token }, bytes: 'a0=B-1&as=code' });
  await call(contract.fetchOwn, { params: { token }, bytes: 'a0=B-2&as=code', is: 404 });
});

test('what programs ask', async () => {
  const { id, list } = await job(['No', 'Plant'], ['key', 'name'], [['B-1', 'Thrift']]);
  const made = await call(contract.makeKey, {
    body: { name: 'App', rights: ['reads', 'writes', 'runs', 'links'], list: null, ends: null },
  });
  const key = String(made.key);
  const { view } = made as unknown as { view: contract.KeyView };
  await call(contract.listKeys);
  const params = { id: list };
  await call(contract.apiLists, { key });
  await call(contract.apiRecords, { key, params, query: { limit: 1 } });
  const record = Number(
    (await call(contract.apiCreateRecord, { key, params, body: { values: { No: 'B-2' } } })).id,
  );
  await call(contract.apiCreateRecords, { key, params, bytes: '{"No":"B-3"}\n{"No":"B-4"}\n' });
  const one = { id: list, record };
  await call(contract.apiRecord, { key, params: one });
  await call(contract.apiChangeRecord, { key, params: one, body: { values: { Plant: 'Kale' } } });
  await call(contract.apiCode, { key, params: one });
  await call(contract.apiLinks, { key, params });
  await call(contract.apiJob, { key, params: { id } });
  const link = {
    key,
    params: {
      code: String(
        (
          await call(contract.apiMakeLink, {
            key,
            body: { title: 'Map', to: 'https://marrambay.example/map' },
          })
        ).code,
      ),
    },
  };
  await call(contract.apiLink, link);
  expect(await call(contract.apiChangeLink, { ...link, body: { state: 'paused' } })).toMatchObject({
    state: 'paused',
    leads: null,
  });
  await call(contract.apiJobs, { key });
  const run = await call(contract.apiStartRun, {
    key,
    params: { id },
    body: { name: 'By an app' },
  });
  await work();
  const { files } = (await call(contract.apiRun, {
    key,
    params: { id: Number(run.id) },
  })) as unknown as {
    files: { id: number }[];
  };
  const file = await call(contract.apiRunFile, {
    key,
    params: { id: Number(run.id), file: files[0]!.id },
  });
  expect(file).toBeDefined();
  await call(contract.apiRemoveRecord, { key, params: one });
  await call(contract.apiDocument);
  await call(contract.endKey, { params: { id: view.id } });
  await call(contract.apiLists, { key, is: 401 });
});

test('checkpoints', async () => {
  const { list } = await job(['No', 'Name'], ['key', 'name'], [['C-1', 'Rune']]);
  const { id } = (await call(contract.makeCheckpoint, {
    body: { name: 'Gate', list },
  })) as unknown as { id: number };
  const params = { id };
  await call(contract.listCheckpoints);
  const { rule, version } = (await call(contract.viewCheckpoint, {
    params,
  })) as unknown as contract.CheckpointView;
  await call(contract.changeCheckpoint, { params, body: { version, rule } });
  await call(contract.changeCheckpoint, { params, body: { version, rule }, is: 409 });
  const device = (await call(contract.addDevice, {
    params,
    body: { name: 'Phone' },
  })) as unknown as { id: number; address: string };
  const token = device.address.split('#')[1];
  await call(contract.joinCheckpoint, { body: { token } });
  await call(contract.joinCheckpoint, { body: { token }, is: 410 });
  const key = '7d1c1d0a-6c53-4a7e-9a53-0d5f8a3c9e11';
  const scans = [{ key, how: 'reader', text: 'C-1' }];
  await call(contract.scanCodes, { params, body: { scans, now: Date.now() } });
  await call(contract.scanCodes, {
    params,
    body: { scans: [{ key, how: 'hand', record: 1 }], now: 0 },
    is: 400,
  });
  await call(contract.viewBoard, { params });
  await call(contract.columnSessions, { params, query: { column: 'c1' } });
  await call(contract.checkpointState, { params });
  await call(contract.checkpointPack, { params });
  await call(contract.findAtCheckpoint, { params, query: { search: 'ru' } });
  // only the demo has a film
  await call(contract.checkpointFilm, { params, is: 404 });
  await call(contract.checkpointLog, { params });
  await call(contract.checkpointLog, { params, query: { as: 'xlsx' } });
  await call(contract.checkpointNews, { params });
  await call(contract.takeBackScan, {
    params,
    body: { key: '7d1c1d0a-6c53-4a7e-9a53-0d5f8a3c9e12', scan: key },
  });
  await call(contract.checkpointState, { params, query: { as: 'device' }, is: 401 });
  await call(contract.shutDevice, { params: { id, device: device.id } });
  const own = (await call(contract.viewByOneself, { params })) as unknown as contract.ByOneselfView;
  const { sample } = (await call(contract.changeByOneself, {
    params,
    body: { version: own.version, document: { ...own.document, open: true } },
  })) as unknown as contract.ByOneselfView;
  const page = { id: /\/r\/([\w-]{22})\//.exec(sample!)![1]!, checkpoint: id };
  await call(contract.checkInPage, { params: page });
  await call(contract.checkInByOneself, { params: page, bytes: '', is: 303 });
  await call(contract.removeCheckpoint, { params });
});

test('rounds', async () => {
  const { list } = await job(
    ['No', 'Name', 'Site'],
    ['key', 'name', 'text'],
    [['R-1', 'Pump', 'A']],
  );
  const { id } = (await call(contract.startRound, {
    body: { name: 'Round', list, column: 'c3' },
  })) as unknown as { id: number };
  const params = { id };
  await call(contract.listRounds);
  await call(contract.viewRound, { params });
  await call(contract.unseenOnRound, { params, query: { place: 'A' } });
  const scan = '7d1c1d0a-6c53-4a7e-9a53-0d5f8a3c9e13';
  await call(contract.scanOnRound, {
    params,
    body: { key: scan, how: 'reader', place: 'B', text: 'R-9' },
  });
  await call(contract.settleOnRound, { params, body: { scan, does: 'make' } });
  await call(contract.roundReport, { params, is: 409 });
  await call(contract.roundNews, { params });
  await call(contract.closeRound, { params });
  await call(contract.roundReport, { params });
  await call(contract.roundFile, { params });
  await call(contract.roundFile, { params, query: { as: 'pdf' } });
  await call(contract.removeRound, { params });
});

test('programs that are told what happens', async () => {
  const { list } = await job(['No'], ['key'], [['B-1']]);
  const made = await call(contract.makeWebhook, {
    body: { name: 'App', address: 'https://app.example/hooks', events: ['record.came'], list },
  });
  expect(String(made.secret)).toMatch(/^whsec_/);
  const { id } = (made as unknown as { view: contract.WebhookView }).view;
  const params = { id };
  await call(contract.makeWebhook, {
    body: { name: 'App', address: 'javascript:1', events: ['record.came'], list },
    is: 400,
  });
  await call(contract.addRecords, { params: { id: list }, body: { records: [{ c1: 'B-2' }] } });
  const { deliveries } = (await call(contract.listDeliveries, { params })) as unknown as {
    deliveries: contract.DeliveryView[];
  };
  expect(deliveries).toHaveLength(1);
  await call(contract.deliverAgain, { params, body: { delivery: deliveries[0]!.id } });
  await call(contract.changeWebhook, { params, body: { open: false } });
  expect(await call(contract.listWebhooks)).toMatchObject({
    webhooks: [{ open: false, waiting: 1 }],
  });
  await call(contract.removeWebhook, { params });
  await call(contract.removeWebhook, { params, is: 404 });
});

test('standing orders, their rehearsal and their log', async () => {
  const { list, columns } = await job(['No', 'Plant'], ['key', 'name'], [['A-1', 'Thrift']]);
  const document = (kind: string, rest: object = {}) => ({
    when: { kind, list, ...rest },
    conditions: { all: true, list: [] },
    steps: [
      { kind: 'write', id: 'a', column: columns[1]!.id, parts: [{ kind: 'text', text: 'x' }] },
    ],
  });
  const params = async (body: unknown) => ({
    id: (await call(contract.makeOrder, { body })).id as unknown as number,
  });
  const hand = await params({ name: 'By hand', document: document('hand') });
  await params({ ready: 'signs' });
  await call(contract.makeOrder, {
    body: { name: 'No', document: { when: { kind: 'x' } } },
    is: 400,
  });
  const view = (await call(contract.viewOrder, { params: hand })) as unknown as OrderView;
  expect(await call(contract.choicesForOrders)).toMatchObject({ printers: expect.any(Array) });
  expect(
    await call(contract.rehearseOrder, { params: hand, body: { document: view.document } }),
  ).toMatchObject({ lines: [{ why: '' }] });
  await call(contract.changeOrder, {
    params: hand,
    body: { version: 1, name: 'Asked for', document: view.document },
  });
  await call(contract.changeOrder, {
    params: hand,
    body: { version: 1, name: 'Late', document: view.document },
    is: 409,
  });
  await call(contract.undoOrder, { params: hand, body: { version: 2 } });
  await call(contract.switchOrder, { params: hand, body: { state: 'on' } });
  const { id: record } = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .executeTakeFirstOrThrow();
  await call(contract.fireByHand, { params: hand, body: { records: [record] } });
  await work();
  const { firings } = (await call(contract.listFirings, {
    query: { order: hand.id },
  })) as unknown as { firings: { id: number; state: string }[] };
  expect(firings).toMatchObject([{ state: 'done', title: 'Started by hand for x' }]);
  const firing = { id: firings[0]!.id };
  await call(contract.fireAgain, { params: firing, body: { from: 'start' }, is: 409 });
  expect(await call(contract.fireFailedAgain, { params: hand, body: { from: 'step' } })).toEqual({
    again: 0,
  });
  await call(contract.answerFiring, { params: firing, body: { yes: true }, is: 409 });
  const called = await params({ name: 'Called', document: document('call', { key: 'no' }) });
  await call(contract.switchOrder, { params: called, body: { state: 'on' }, is: 400 });
  const { secret } = await call(contract.newCallSecret, { params: called });
  await call(contract.switchOrder, { params: called, body: { state: 'on' } });
  const address = ((await call(contract.viewOrder, { params: called })) as unknown as OrderView)
    .call!.address;
  const token = address.split('/').at(-1)!;
  await call(contract.callOrder, { params: { token }, bytes: '{"no":"A-1"}', key: secret });
  await call(contract.callOrder, { params: { token }, bytes: '{}', key: 'wrong', is: 404 });
  expect(JSON.stringify(await call(contract.listOrders))).not.toContain('whsec_');
  await call(contract.removeOrder, { params: called });
  await call(contract.viewOrder, { params: called, is: 404 });
});

test('signing in, and those who do', async () => {
  const password = 'three herons on a gate';
  const address = await firstOne();
  const token = address.split('/').at(-1)!;
  expect(await call(contract.viewWelcome, { params: { token } })).toMatchObject({ kind: 'first' });
  // there is an administrator already, so nobody is the first
  await call(contract.takeWelcome, {
    params: { token },
    body: { name: 'Late', email: 'late@post.example', password },
    is: 404,
  });
  await call(contract.viewMe);
  await call(contract.viewStandIns);
  await call(contract.becomeStandIn, { body: { person: keeper.id }, is: 404 });
  const made = await call(contract.invite, {
    body: { name: 'Bryn', email: 'bryn@post.example', right: 'editor', mail: false },
  });
  const shown = (await call(contract.listPeople)) as unknown as PeopleView;
  expect(shown.invited).toMatchObject([{ email: 'bryn@post.example', right: 'editor' }]);
  await call(contract.takeWelcome, {
    params: { token: String(made.address).split('/').at(-1)! },
    body: { password },
  });
  const other = await call(contract.invite, {
    body: { name: 'Odd', email: 'odd@post.example', right: 'viewer', mail: true },
  });
  expect(other.mailed).toBe(false);
  const [invited] = ((await call(contract.listPeople)) as unknown as PeopleView).invited;
  await call(contract.takeBackInvitation, { params: { id: invited!.id } });
  const { people } = (await call(contract.listPeople)) as unknown as PeopleView;
  const bryn = people.find((p) => p.name === 'Bryn')!;
  await call(contract.signIn, { body: { email: bryn.email, password } });
  await call(contract.signIn, { body: { email: bryn.email, password: 'wrong' }, is: 401 });
  await call(contract.forgotten, { body: { email: bryn.email } });
  await call(contract.changePerson, { params: { id: bryn.id }, body: { right: 'viewer' } });
  await call(contract.changePerson, { params: { id: keeper.id }, body: { ended: true }, is: 409 });
  const reset = await call(contract.resetPerson, {
    params: { id: bryn.id },
    body: { mail: false },
  });
  expect(String(reset.address)).toContain('/welcome/');
  await call(contract.askPasskey);
  await call(contract.signInByPasskey, { body: { response: { id: 'x' } }, is: 401 });
  await call(contract.signInSecond, { body: { code: '123456', kind: 'app' }, is: 401 });
  await call(contract.viewSignIn);
  await call(contract.changePassword, { body: { now: 'x', next: password }, is: 400 });
  await call(contract.newPasskeyOptions);
  await call(contract.addPasskey, { body: { name: 'phone', response: { id: 'x' } }, is: 400 });
  await call(contract.removePasskey, { params: { id: 'x' } });
  await call(contract.startSecondFactor, { body: { password: 'x' }, is: 400 });
  await call(contract.confirmSecondFactor, { body: { code: '123456' }, is: 400 });
  await call(contract.stopSecondFactor, { body: { password: 'x' }, is: 400 });
  const { id, list } = await job(['No'], ['key'], [['P-1']]);
  await call(contract.copyJob, { params: { id } });
  const [mine, next] = ['window-of-mine', 'another-window'];
  await call(contract.sayHere, { params: { id }, body: { window: mine, record: null } });
  await call(contract.sayHere, { params: { id }, body: { window: next, record: null } });
  const here = { params: { id }, query: { window: mine } };
  expect(await call(contract.whoIsHere, here)).toMatchObject({ others: [{ oneself: true }] });
  await call(contract.sayHere, {
    params: { id },
    body: { window: next, record: null, leaves: true },
  });
  expect(await call(contract.whoIsHere, here)).toEqual({ others: [] });
  await call(contract.viewMetrics);
  for (const [see, share, params] of [
    [contract.jobShares, contract.shareJob, { id }],
    [contract.listShares, contract.shareList, { id: list }],
  ] as const) {
    await call(see, { params });
    await call(share, { params, body: { person: bryn.id, right: 'editor' } });
    expect(await call(share, { params, body: { person: bryn.id, right: null } })).toMatchObject({
      shares: [],
    });
    await call(share, { params, body: { person: 'nobody', right: 'viewer' }, is: 404 });
  }
  await call(contract.viewJournal, { query: { q: 'Bryn', from: '2020-01-01' } });
  await call(contract.journalFile);
  await call(contract.endSession, { params: { id: 'x' } });
  await call(contract.endOtherSessions);
  await call(contract.signOut);
});

test('every route was called', () => {
  const declared = allRoutes.map(([, route]) => `${route.method} ${route.path}`);
  expect([...asked].sort()).toEqual([...declared].sort());
});
