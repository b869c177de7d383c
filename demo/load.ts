import { addPrinter, listPrinters } from '../src/server/delivery';
import { randomUUID } from 'node:crypto';
import { readdir, readFile } from 'node:fs/promises';
import { glasshouseRound, northGate, workshopGuests } from './checkpoints';
import { bedSignLinks, gardenAddresses, gardenLinks } from './links';
import { gardenOrders } from './orders';
import { gardenPeople, mailOf } from './people';
import { basename, join } from 'node:path';
import { firstStamp, type Stamp } from '../src/core/payload/stamp';
import type { Piece } from '../src/core/piece/model';
import { firstPiece } from '../src/core/piece/starters';
import { starters } from '../src/core/piece/starters';
import { stockById } from '../src/core/piece/stock';
import type { Column } from '../src/core/records/columns';
import { suggestRoles } from '../src/core/records/columns';
import { defaultRunOptions } from '../src/core/run/plan';
import type { Database } from '../src/server/platform/db';
import type { JobDocument } from '../src/core/job/document';
import type { Origin } from '../src/core/job/sources';
import { findHeaderRow, takenSheet } from '../src/server/sources/files/preview';
import { rejudgeList } from '../src/server/judging/judge';
import { createJob, createList } from '../src/server/lists/lists';
import { parse } from 'csv-parse/sync';
import {
  findInDocument,
  findInRow,
  keepDocument,
  keepPdf,
  startSet,
} from '../src/server/documents';
import { addJob, changeJob, viewJob } from '../src/server/jobs';
import { log } from '../src/server/platform/log';
import { startRun } from '../src/server/runs/runs';
import { readQuery } from '../src/server/sources/connections';
import { bookOf } from '../src/server/sources/intake';

const ink = '#1d1a26';
const violet = '#46298f';

interface DemoList {
  file: string;
  list: string;
  job: string;
  document(columns: readonly Column[]): JobDocument;
  /** What to ask the garden's records database for, where it is at hand. */
  query?: string;
  /** What else is done with the job. */
  after?(db: Database, job: number): Promise<void>;
  /** Name of a run to make at once, so that the job has been printed before. */
  printed?: string;
}

const byName = (columns: readonly Column[], name: string): string =>
  columns.find((c) => c.name === name)!.id;

function plain(
  stock: string,
  change: (stamp: Stamp, columns: readonly Column[]) => Stamp = (stamp) => stamp,
): (columns: readonly Column[]) => JobDocument {
  return (columns) => {
    const stamp = change(firstStamp(columns), columns);
    return {
      stamps: [stamp],
      piece: firstPiece(stockById(stock), stamp, columns),
      options: defaultRunOptions,
    };
  };
}

/** A job that begins with one of the designs. */
const begun =
  (starter: string) =>
  (columns: readonly Column[]): JobDocument => {
    const stamp = firstStamp(columns);
    return {
      stamps: [stamp],
      piece: starters.find((s) => s.id === starter)!.make(stamp, columns),
      options: defaultRunOptions,
    };
  };

function badges(columns: readonly Column[]): JobDocument {
  const column = (name: string) => ({ kind: 'column' as const, column: byName(columns, name) });
  const stamp: Stamp = {
    ...firstStamp(columns),
    name: 'Door check',
    does: 'page',
    parts: [
      { kind: 'text', text: 'https://marrambay.example/v/' },
      column('Badge no'),
      { kind: 'text', text: '?t=' },
      column('Token'),
    ],
    level: 'Q',
    look: { ...firstStamp(columns).look, sizeMm: 24, foreground: violet },
  };
  const words = {
    kind: 'text' as const,
    x: 6,
    width: 50,
    align: 'left' as const,
    colour: ink,
    lines: 1,
  };
  const piece: Piece = {
    stock: 'a4-10',
    elements: [
      {
        ...words,
        id: 'garden',
        y: 6,
        parts: [{ kind: 'text', text: 'Marram Bay Botanic Garden' }],
        font: 'bricolage-bold',
        sizePt: 9,
        minPt: 9,
        colour: violet,
      },
      {
        ...words,
        id: 'name',
        y: 15,
        parts: [column('Name')],
        font: 'bricolage-bold',
        sizePt: 20,
        minPt: 16,
        lines: 2,
      },
      {
        ...words,
        id: 'role',
        y: 36,
        parts: [column('Role'), { kind: 'text', text: ', ' }, column('Site')],
        font: 'atkinson',
        sizePt: 11,
        minPt: 8,
      },
      {
        ...words,
        id: 'number',
        y: 43.5,
        parts: [column('Badge no')],
        font: 'mono',
        sizePt: 10,
        minPt: 10,
      },
      { kind: 'stamp', id: 'code', stamp: stamp.id, x: 61, y: 15, sizeMm: 24 },
    ],
  };
  const pass: Stamp = {
    ...firstStamp(columns),
    id: 'stamp-2',
    name: 'Steward pass',
    does: 'text',
    parts: [column('Token')],
    symbology: 'data-matrix',
    look: { ...firstStamp(columns).look, sizeMm: 10, foreground: ink },
  };
  piece.elements.push({ kind: 'stamp', id: 'pass', stamp: pass.id, x: 68, y: 40.5, sizeMm: 10 });
  return {
    stamps: [stamp, pass],
    piece,
    options: defaultRunOptions,
    mail: {
      to: byName(columns, 'E-mail'),
      subject: [{ kind: 'text', text: 'Your badge for the open weekend, ' }, column('Badge no')],
      body: [
        [{ kind: 'text', text: 'Hello ' }, column('Name'), { kind: 'text', text: ',' }],
        [
          { kind: 'text', text: 'Thank you for helping at ' },
          column('Site'),
          { kind: 'text', text: ' as ' },
          column('Role'),
          { kind: 'text', text: '. Your shift: ' },
          column('Shift'),
          { kind: 'text', text: '.' },
        ],
        [
          {
            kind: 'text',
            text: 'Show this code at the north gate, on your phone or printed. Your badge is attached if you want to print it yourself.',
          },
        ],
      ],
      codes: 'below',
      stamps: [stamp.id],
      attach: 'pdf-each',
    },
  };
}

/** Packet labels: the product number as the till wants it, above it the variety. */
function packets(columns: readonly Column[]): JobDocument {
  const first = firstStamp(columns);
  const stamp: Stamp = {
    ...first,
    name: 'Till',
    symbology: 'ean-13',
    look: { ...first.look, sizeMm: 40, barMm: 16, foreground: ink },
  };
  const column = (name: string) => ({ kind: 'column' as const, column: byName(columns, name) });
  const words = {
    kind: 'text' as const,
    x: 5,
    width: 53,
    align: 'left' as const,
    colour: ink,
    lines: 1,
  };
  const piece: Piece = {
    stock: 'a4-21',
    elements: [
      {
        ...words,
        id: 'variety',
        y: 3.5,
        parts: [column('Variety')],
        font: 'bricolage-bold',
        sizePt: 12,
        minPt: 9,
      },
      {
        ...words,
        id: 'lot',
        y: 9.5,
        parts: [
          { kind: 'text', text: 'Lot ' },
          column('Lot'),
          { kind: 'text', text: ', sow by ' },
          column('Sow by'),
        ],
        font: 'atkinson',
        sizePt: 8,
        minPt: 7,
      },
      { kind: 'stamp', id: 'code', stamp: stamp.id, x: 11.5, y: 5, sizeMm: 40 },
    ],
  };
  return { stamps: [stamp], piece, options: defaultRunOptions };
}

/**
 * The agreement that was written for one loan becomes that of all, with the packets of each from a
 * list of their own.
 */
async function loanAgreement(db: Database, job: number): Promise<void> {
  const read = (name: string) => readFile(join(process.cwd(), 'demo', name));
  const [headings = [], ...rows] = parse(await read('packets-lent.csv')) as string[][];
  const packets = await createList(db, {
    name: 'Packets lent',
    source: 'packets-lent.csv',
    headings,
    roles: suggestRoles(headings, rows),
    rows,
    note: `${rows.length} records from packets-lent.csv`,
    actor: 'demo',
  });
  const example = await keepDocument(
    db,
    'loan-agreement.docx',
    await read('loan-agreement.docx'),
    'demo',
  );
  const found = await findInDocument(db, job, { document: example.id });
  const [picture] = example.facts.pictures;
  const first = example.facts.rows[1]!;
  const block = await findInRow(db, job, {
    document: example.id,
    part: first.part,
    row: first.number,
    list: packets.id,
    record: found.writtenFor!.record,
  });
  const { version, document } = await viewJob(db, job);
  await changeJob(
    db,
    job,
    {
      version,
      document: {
        ...document,
        piece: {
          ...document.piece,
          ground: {
            kind: 'document',
            document: example.id,
            name: example.name,
            writtenFor: found.writtenFor!,
            places: [
              ...found.places,
              ...block.places.map((place) => ({ ...place, block: 'packets' })),
            ],
            codes: [
              {
                id: 'code-1',
                stamp: document.stamps[0]!.id,
                widthMm: picture!.widthMm,
                heightMm: picture!.heightMm,
                at: { kind: 'picture', part: picture!.part, picture: picture!.number },
              },
            ],
            blocks: [
              {
                id: 'packets',
                part: first.part,
                row: first.number,
                goes: block.goes,
                list: packets.id,
                ...block.match!,
              },
            ],
          },
        },
      },
    },
    'demo',
  );
  await agreementCopies(db, job);
}

/** A second job of the same list: the agreements that exist as PDFs get the code of their loan. */
async function agreementCopies(db: Database, first: number): Promise<void> {
  const { list, document } = await viewJob(db, first);
  const job = await addJob(db, list.id, { name: 'Loan agreements, signed copies' }, 'demo');
  const set = await startSet(db, 'agreements', 'demo');
  const folder = join(process.cwd(), 'demo', 'agreements');
  const names = await readdir(folder, { recursive: true });
  // what was sent back with our code on it comes after its original, and is known by it
  const back = (name: string) => Number(name.startsWith('sent-back'));
  for (const name of names
    .filter((n) => n.endsWith('.pdf'))
    .sort((a, b) => back(a) - back(b) || (a < b ? -1 : 1)))
    await keepPdf(
      db,
      set,
      basename(name),
      await readFile(join(folder, name)),
      'demo',
      'dune house',
    );
  const own = await viewJob(db, job);
  await changeJob(
    db,
    job,
    {
      version: own.version,
      document: {
        ...own.document,
        piece: {
          ...own.document.piece,
          ground: {
            kind: 'pdfs',
            set,
            name: 'agreements',
            knownBy: 'name',
            column: byName(list.columns, 'Loan'),
            said: [],
            stamp: document.stamps[0]!.id,
            sizeMm: 18,
            corner: 'bottom right',
            acrossMm: 12,
            downMm: 12,
            pages: 'first',
          },
        },
      },
    },
    'demo',
  );
}

/** A second job of the friends: a page that was written for one of them, by mail to each. */
async function invitations(db: Database, first: number): Promise<void> {
  const { list, document } = await viewJob(db, first);
  const job = await addJob(db, list.id, { name: 'Winter evening, by mail' }, 'demo');
  const page = await keepDocument(
    db,
    'invitation.html',
    await readFile(join(process.cwd(), 'demo', 'invitation.html')),
    'demo',
  );
  const found = await findInDocument(db, job, { document: page.id });
  const [picture] = page.facts.pictures;
  const own = await viewJob(db, job);
  await changeJob(
    db,
    job,
    {
      version: own.version,
      document: {
        ...own.document,
        piece: {
          ...own.document.piece,
          ground: {
            kind: 'html',
            document: page.id,
            name: page.name,
            writtenFor: found.writtenFor!,
            places: found.places.map((place) => ({ ...place, likely: undefined })),
            codes: [
              {
                id: 'code-1',
                stamp: document.stamps[0]!.id,
                widthMm: picture!.widthMm,
                heightMm: picture!.heightMm,
                at: { kind: 'picture', part: picture!.part, picture: picture!.number },
              },
            ],
            blocks: [],
          },
        },
        mail: {
          to: byName(list.columns, 'E-mail'),
          subject: [{ kind: 'text', text: 'A winter evening in the Glasshouse' }],
          body: [],
          codes: 'below',
        },
      },
    },
    'demo',
  );
}

const lists: readonly DemoList[] = [
  {
    file: 'volunteers.xlsx',
    list: 'Volunteers and stewards',
    job: 'Badges, open weekend',
    document: badges,
    printed: 'Badges, first print',
    after: northGate,
  },
  {
    file: 'equipment.csv',
    list: 'Equipment',
    job: 'Asset tags',
    document: plain('a4-21', (stamp) => ({
      ...stamp,
      symbology: 'data-matrix',
      look: { ...stamp.look, sizeMm: 18 },
    })),
    after: glasshouseRound,
  },
  { file: 'seed-packets.xlsx', list: 'Seed packets', job: 'Packet labels', document: packets },
  {
    file: 'accessions.csv',
    query: 'select * from accession_signs',
    list: 'Accessions',
    job: 'Bed signs',
    document: begun('bed-sign'),
    after: bedSignLinks,
  },
  {
    file: 'friends.ods',
    list: 'Friends of the garden',
    job: 'Postcards to friends',
    document: begun('postcard'),
    after: invitations,
  },
  {
    file: 'seed-loans.xls',
    list: 'Seed loan agreements',
    job: 'Loan agreements',
    document: plain('a4-21', (stamp, columns) => ({
      ...stamp,
      name: 'Loan page',
      does: 'page',
      parts: [
        { kind: 'text', text: 'https://marrambay.example/loans/' },
        { kind: 'column', column: byName(columns, 'Loan') },
      ],
    })),
    after: loanAgreement,
  },
  { file: 'workshops.tsv', list: 'Workshops', job: 'Workshop check-in', document: plain('a4-8') },
];

/** Printers that only seem to print, where there is none yet. */
async function standInPrinters(db: Database): Promise<void> {
  if ((await listPrinters(db, true)).length > 0) return;
  const known = { offsetX: 0, offsetY: 0, finest: null, address: null };
  const paper = { name: 'Test printer for office paper', dpi: 600 };
  const labels = { name: 'Test printer for labels', dpi: 300 };
  await addPrinter(db, { ...known, ...paper, faults: ['nozzle'], intoTray: true });
  await addPrinter(db, { ...known, ...labels, faults: [], intoTray: false });
}

/**
 * The garden's people, whom a visitor may become. They have no password, so nobody signs in as them
 * from elsewhere.
 */
async function standInPeople(db: Database): Promise<void> {
  for (const { name, right } of gardenPeople)
    await db
      .insertInto('people')
      .values({
        id: randomUUID(),
        name,
        email: mailOf(name),
        email_verified: true,
        right,
        stand_in: true,
      })
      .onConflict((c) => c.column('email').doNothing())
      .execute();
}

/**
 * Loads the lists of Marram Bay once; later starts leave everything as it is.
 * @param garden the connection to the garden's records database, from which the accessions then
 *    come
 */
export async function loadDemo(db: Database, garden?: number): Promise<boolean> {
  await standInPrinters(db);
  await standInPeople(db);
  const done = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', 'demo')
    .executeTakeFirst();
  if (done) return false;
  await gardenAddresses(db);
  for (const demo of [...lists].reverse()) {
    const origin: Origin =
      demo.query && garden !== undefined
        ? { kind: 'database', connection: garden, query: demo.query, name: 'Garden records' }
        : { kind: 'file', name: demo.file, headerRow: 0 };
    const bytes =
      origin.kind === 'database'
        ? Buffer.from(JSON.stringify(await readQuery(db, origin.connection, origin.query)))
        : await readFile(join(process.cwd(), 'demo', demo.file));
    const book = bookOf(demo.file, origin, bytes);
    const sheet = book.sheets[0]!;
    const headerRow = findHeaderRow(sheet.rows);
    const { names, rows } = takenSheet(sheet, { headerRow });
    const source = origin.kind === 'database' ? origin.name : demo.file;
    const roles = suggestRoles(names, rows.slice(0, 500));
    const { jobId, listId } = await db.transaction().execute(async (tx) => {
      const list = await createList(tx, {
        name: demo.list,
        source,
        origin: origin.kind === 'file' ? { ...origin, sheet: sheet.name, headerRow } : origin,
        headings: names,
        roles,
        rows,
        note: `${rows.length} records from ${source}`,
        actor: 'demo',
      });
      return {
        listId: list.id,
        jobId: await createJob(
          tx,
          demo.job,
          list.id,
          list.columns,
          'demo',
          demo.document(list.columns),
        ),
      };
    });
    await rejudgeList(db, listId);
    await demo.after?.(db, jobId);
    if (demo.printed)
      await startRun(db, jobId, { name: demo.printed, which: 'ready', ticked: [] }, 'demo');
    log.info({ list: demo.list, records: rows.length }, 'demo list loaded');
  }
  await gardenLinks(db);
  await workshopGuests(db);
  await gardenOrders(db);
  await db.insertInto('settings').values({ name: 'demo', value: 'loaded' }).execute();
  return true;
}
