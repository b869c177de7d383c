import { execFileSync } from 'node:child_process';
import {
  existsSync,
  utimesSync,
  mkdtempSync,
  readFileSync,
  rmSync,
  writeFileSync,
  readdirSync,
  chmodSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { sql } from 'kysely';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { docx, inline, paragraph, run as words, table } from '../../../demo/docx';
import { inspectDocx } from '../../../src/core/documents';
import type { DocumentGround } from '../../../src/core/piece/ground';
import { suggestRoles } from '../../../src/core/records/columns';
import {
  documentBytes,
  findInDocument,
  findInRow,
  keepDocument,
  sweepFolders,
} from '../../../src/server/documents';
import { changeJob, ledgerRows, viewJob } from '../../../src/server/jobs';
import { createList, editCells } from '../../../src/server/lists';
import { rejudgeList } from '../../../src/server/judging';
import { viewSchema } from '../../../src/contract';
import { receiptPdf } from '../../../src/server/runs/receipt-pdf';
import { proofOf } from '../../../src/server/runs/proof';
import { receiptPart } from '../../../src/server/runs/receipt';
import { viewRun } from '../../../src/server/runs/run-views';
import { runAgain, startRun } from '../../../src/server/runs/runs';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { pdfText, renderPdf } from '../../helpers/poppler';
import { runsIn } from '../../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  t = await testDatabase();
});
afterAll(() => t.close());
const runs = runsIn(() => t);

/** A process that has ended and waits to be collected is not alive. */
function isAlive(pid: number): boolean {
  try {
    return !/^State:\s+Z/m.test(readFileSync(`/proc/${pid}/status`, 'utf8'));
  } catch {
    return false;
  }
}

const picture = readFileSync('docs/screenshots/jobs.png');
const loans = [
  ['L-0007', 'Odile Fenwick', '2027-09-30'],
  ['L-0008', 'Teo Brandt', '2027-03-05'],
  ['L-0009', 'Saltmarsh School', ''],
];
const packets = [
  ['P-118', 'L-0007', 'Sea kale'],
  ['P-131', 'L-0007', 'Horned poppy'],
  ['P-140', 'L-0008', 'Thrift'],
];
const example = docx({
  media: { 'code.png': picture },
  header: paragraph(words('Agreement L-0007')),
  body: [
    paragraph(inline('pic1', 1, 30, 30)),
    paragraph(
      words('Between the library and Odile '),
      words('Fenwick', { bold: true }),
      words('.'),
    ),
    paragraph(words('Due back by 30 September 2027, thank you.')),
    table(
      [2000, 4000],
      packets
        .slice(0, 2)
        .map(([packet, , variety]) => [paragraph(words(packet!)), paragraph(words(variety!))]),
    ),
  ].join(''),
});

async function documentJob(
  change: (ground: DocumentGround) => DocumentGround = (g) => g,
  bytes = example,
) {
  const job = await runs.job(['Loan', 'Borrower', 'Due'], ['key', 'name', 'text'], loans);
  const other = await createList(t.db, {
    name: 'Packets lent',
    source: 'packets.csv',
    headings: ['Packet', 'Loan', 'Variety'],
    roles: suggestRoles(['Packet', 'Loan', 'Variety'], packets),
    rows: packets,
    note: '',
    actor: 'test',
  });
  const document = await keepDocument(t.db, 'agreement.docx', Buffer.from(bytes), 'test');
  const found = await findInDocument(t.db, job.id, { document: document.id });
  const block = await findInRow(t.db, job.id, {
    document: document.id,
    part: 'word/document.xml',
    row: 0,
    list: other.id,
    record: found.writtenFor!.record,
  });
  const { version, document: whole } = await viewJob(t.db, job.id);
  const ground = change({
    kind: 'document',
    document: document.id,
    name: document.name,
    writtenFor: found.writtenFor!,
    places: [...found.places, ...block.places.map((p) => ({ ...p, block: 'b' }))],
    codes: [
      {
        id: 'c',
        stamp: whole.stamps[0]!.id,
        widthMm: 30,
        heightMm: 30,
        at: { kind: 'picture', part: 'word/document.xml', picture: 0 },
      },
    ],
    blocks: [
      {
        id: 'b',
        part: 'word/document.xml',
        row: 0,
        goes: block.goes,
        list: other.id,
        ...block.match!,
      },
    ],
  });
  await changeJob(
    t.db,
    job.id,
    { version, document: { ...whole, piece: { ...whole.piece, ground } } },
    'test',
  );
  return { ...job, document, found, block };
}

async function made(jobId: number, kind: string) {
  const id = await runs.run(jobId, { output: { kind } });
  const run = await viewRun(t.db, id);
  return { id, run, bytes: await runs.bytesOf(id, kind === 'document-pdf' ? '.pdf' : '.zip') };
}
const filesOf = (zip: Buffer) =>
  Object.entries(unzipSync(zip))
    .filter(([name]) => !name.endsWith('list.csv'))
    .map(([name, bytes]) => [name.replace(/^.*\//, ''), bytes] as const);

test('an example is found to be that of its record, and its row that of a packet of it', async () => {
  const { found, block, document } = await documentJob();
  expect(found.writtenFor?.title).toBe('Odile Fenwick');
  expect(found.places.map((p) => p.example)).toEqual([
    'Odile Fenwick',
    '30 September 2027',
    'L-0007',
  ]);
  expect(block).toMatchObject({ match: { by: 'c2', is: 'c1' }, goes: 1 });
  expect(block.places.map((p) => p.example)).toEqual(['P-118', 'Sea kale']);
  expect(await documentBytes(t.db, document.id, 'docx')).toEqual(Buffer.from(example));
  // the same file again is the same document
  expect((await keepDocument(t.db, 'agreement.docx', Buffer.from(example), 'test')).id).toBe(
    document.id,
  );
});

test('each record gets its own document, its rows and its code, and the same again', async () => {
  const { id: job } = await documentJob();
  const { id, run, bytes } = await made(job, 'docx-each');
  expect(run).toMatchObject({ state: 'done', failed: 0, codes: 3, read: 3 });
  const files = filesOf(bytes);
  expect(files.map(([name]) => name)).toEqual(['L-0007.docx', 'L-0008.docx', 'L-0009.docx']);
  expect(files.map(([, file]) => inspectDocx(file).texts.flatMap((x) => x.paragraphs))).toEqual([
    [
      '',
      'Between the library and Odile Fenwick.',
      'Due back by 30 September 2027, thank you.',
      'P-118',
      'Sea kale',
      'P-131',
      'Horned poppy',
      'Agreement L-0007',
    ],
    [
      '',
      'Between the library and Teo Brandt.',
      'Due back by 5 March 2027, thank you.',
      'P-140',
      'Thrift',
      'Agreement L-0008',
    ],
    [
      '',
      'Between the library and Saltmarsh School.',
      'Due back by, thank you.',
      'Agreement L-0009',
    ],
  ]);
  const again = await runAgain(t.db, id, 'test');
  await runs.work();
  expect(filesOf(await runs.bytesOf(again, '.zip')).map(([, file]) => Buffer.from(file))).toEqual(
    files.map(([, file]) => Buffer.from(file)),
  );
});

test('LibreOffice opens what is made without repair; every code reads from the page by a reader that is not ours', async () => {
  const { id: job } = await documentJob();
  const { id, run, bytes } = await made(job, 'document-pdf-each');
  expect(run).toMatchObject({ state: 'done', failed: 0, codes: 3, read: 3 });
  const files = filesOf(bytes);
  expect(files.map(([name]) => name)).toEqual(['L-0007.pdf', 'L-0008.pdf', 'L-0009.pdf']);
  for (const [i, [, pdf]] of files.entries()) {
    expect(pdfText(pdf)).toContain(loans[i]![1]);
    expect(pdfText(pdf)).toContain(`Agreement ${loans[i]![0]}`);
    const [page] = renderPdf(pdf, 300);
    expect((await readAll(page!)).map((r) => r.text)).toContain(loans[i]![0]);
  }
  // the receipt names the file they were read from
  expect(pdfText(Buffer.from(await receiptPdf(t.db, id))).replace(/\s+/g, ' ')).toContain(
    'all 3, from the finished page, as a printer would print it',
  );
  const { run: one, bytes: whole } = await made(job, 'document-pdf');
  expect(one).toMatchObject({ state: 'done', failed: 0, read: 3 });
  expect(renderPdf(whole, 60)).toHaveLength(3);
  const text = pdfText(whole);
  expect(loans.every(([, name]) => text.includes(name!))).toBe(true);
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-test-'));
  writeFileSync(join(folder, 'a.pdf'), whole);
  execFileSync('qpdf', ['--check', join(folder, 'a.pdf')]);
  rmSync(folder, { recursive: true });
});

test('one document for all who share a value, a table row for each of them, and all of them are printed by it', async () => {
  const people = [
    ['B-1', 'Odile Fenwick', 'Sat morning'],
    ['B-2', 'Teo Brandt', 'Sun morning'],
    ['B-3', 'Wren Halloran', 'Sat morning'],
    ['B-4', 'Imke Orme', ''],
    ['B-5', 'Joss Amadi', 'Sat morning'],
  ];
  const job = await runs.job(['Badge', 'Name', 'Shift'], ['key', 'name', 'text'], people);
  const bytes = docx({
    media: { 'code.png': picture },
    body:
      paragraph(words('Roster of Sat morning')) +
      paragraph(inline('pic1', 1, 30, 30)) +
      table(
        [2000, 4000],
        [0, 2].map((i) => [paragraph(words(people[i]![0]!)), paragraph(words(people[i]![1]!))]),
      ),
  });
  const document = await keepDocument(t.db, 'roster.docx', Buffer.from(bytes), 'test');
  const found = await findInDocument(t.db, job.id, { document: document.id });
  expect(found.writtenFor?.title).toBe('Odile Fenwick');
  const row = await findInRow(t.db, job.id, {
    document: document.id,
    part: 'word/document.xml',
    row: 0,
    list: job.list,
    record: found.writtenFor!.record,
    by: 'c3',
  });
  expect(row).toMatchObject({ match: { by: 'c3', is: 'c3' }, goes: 1 });
  const inRow = new Set(document.facts.rows.flatMap((r) => r.paragraphs));
  const view = await viewJob(t.db, job.id);
  const ground: DocumentGround = {
    kind: 'document',
    document: document.id,
    name: document.name,
    groupBy: 'c3',
    places: [
      ...found.places.filter((p) => !inRow.has(p.paragraph)),
      ...row.places.map((p) => ({ ...p, block: 'r' })),
    ],
    codes: [
      {
        id: 'c',
        stamp: view.document.stamps[0]!.id,
        widthMm: 30,
        heightMm: 30,
        at: { kind: 'picture', part: 'word/document.xml', picture: 0 },
      },
    ],
    blocks: [
      {
        id: 'r',
        part: 'word/document.xml',
        row: 0,
        goes: 1,
        list: job.list,
        by: 'c3',
        is: 'c3',
        members: true,
      },
    ],
  };
  await changeJob(
    t.db,
    job.id,
    {
      version: view.version,
      document: { ...view.document, piece: { ...view.document.piece, ground } },
    },
    'test',
  );
  const wanted = { name: 'x', which: 'with-code' as const, output: { kind: 'docx-each' } };
  const proof = await proofOf(t.db, job.id, wanted, 0);
  expect(proof).toMatchObject({ pieces: 3, left: 0 });
  const { id, run, bytes: zip } = await made(job.id, 'docx-each');
  expect(run).toMatchObject({ state: 'done', pieces: 3, codes: 3, failed: 0, leftOut: [] });
  const files = Object.fromEntries(
    filesOf(zip).map(([name, file]) => [
      name,
      inspectDocx(file).texts[0]!.paragraphs.filter(Boolean),
    ]),
  );
  expect(files).toEqual({
    'Sat morning.docx': [
      'Roster of Sat morning',
      ...['B-1', 'Odile Fenwick', 'B-3', 'Wren Halloran', 'B-5', 'Joss Amadi'],
    ],
    'Sun morning.docx': ['Roster of Sun morning', 'B-2', 'Teo Brandt'],
    [Object.keys(files)[2]!]: ['Roster of', 'B-4', 'Imke Orme'],
  });
  const printed = await t.db
    .selectFrom('job_rows')
    .select('run_id')
    .where('job_id', '=', job.id)
    .execute();
  expect(printed.map((r) => r.run_id)).toEqual([id, id, id, id, id]);
  const { counts } = await viewJob(t.db, job.id);
  expect(counts).toMatchObject({ new: 0, changed: 0 });
  // it contains only the chosen ones
  const some = await runs.run(job.id, {
    which: 'ticked',
    ticked: proof.items.slice(0, 1).map((i) => i.record),
    output: { kind: 'docx-each' },
  });
  const [, one] = filesOf(await runs.bytesOf(some, '.zip'))[0]!;
  expect(inspectDocx(one).texts[0]!.paragraphs.filter(Boolean)).toEqual([
    'Roster of Sat morning',
    'B-1',
    'Odile Fenwick',
  ]);
  const again = await runAgain(t.db, id, 'test');
  await runs.work();
  expect(filesOf(await runs.bytesOf(again, '.zip')).map(([, f]) => Buffer.from(f))).toEqual(
    filesOf(zip).map(([, f]) => Buffer.from(f)),
  );
});

/** Ids of a kind in a document, from all of its XML. */
const idsIn = (xml: string, pattern: RegExp) => [...xml.matchAll(pattern)].map((m) => m[1]);

test('one document of all: pages, headers, notes and lists of each its own, no identifier twice, every code reads', async () => {
  const word = 'application/vnd.openxmlformats-officedocument.wordprocessingml';
  const base = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';
  const w = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"';
  const item = (text: string) =>
    `<w:p><w:pPr><w:numPr><w:ilvl w:val="0"/><w:numId w:val="3"/></w:numPr></w:pPr>${words(text)}</w:p>`;
  const whole = unzipSync(
    docx({
      media: { 'code.png': picture },
      header: paragraph(words('Agreement L-0007')),
      footer: paragraph(words('Marram Bay')),
      relations:
        `<Relationship Id="notes" Type="${base}/footnotes" Target="footnotes.xml"/>` +
        `<Relationship Id="lists" Type="${base}/numbering" Target="numbering.xml"/>`,
      more: {
        'word/footnotes.xml': `<w:footnotes ${w}><w:footnote w:type="separator" w:id="-1"><w:p><w:r><w:separator/></w:r></w:p></w:footnote><w:footnote w:id="2"><w:p><w:r><w:t>Kept under L-0007.</w:t></w:r></w:p></w:footnote></w:footnotes>`,
        'word/numbering.xml': `<w:numbering ${w}><w:abstractNum w:abstractNumId="1"><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="decimal"/><w:lvlText w:val="%1)"/><w:pPr><w:ind w:left="360" w:hanging="360"/></w:pPr></w:lvl></w:abstractNum><w:num w:numId="3"><w:abstractNumId w:val="1"/></w:num></w:numbering>`,
      },
      body: [
        paragraph(inline('pic1', 1, 30, 30)),
        `<w:p><w:bookmarkStart w:id="7" w:name="who"/>${words('Odile Fenwick')}<w:bookmarkEnd w:id="7"/><w:r><w:footnoteReference w:id="2"/></w:r></w:p>`,
        item('comes'),
        item('goes'),
        `<w:p><w:hyperlink w:anchor="who">${words('see above')}</w:hyperlink></w:p>`,
        paragraph(words('Due back by 30 September 2027.')),
      ].join(''),
    }),
  );
  const types = '[Content_Types].xml';
  whole[types] = Buffer.from(
    Buffer.from(whole[types]!)
      .toString()
      .replace(
        '</Types>',
        `<Override PartName="/word/footnotes.xml" ContentType="${word}.footnotes+xml"/><Override PartName="/word/numbering.xml" ContentType="${word}.numbering+xml"/></Types>`,
      ),
  );
  const job = await runs.job(['Loan', 'Borrower', 'Due'], ['key', 'name', 'text'], loans);
  const document = await keepDocument(t.db, 'all.docx', Buffer.from(zipSync(whole)), 'test');
  const { places } = await findInDocument(t.db, job.id, { document: document.id });
  const view = await viewJob(t.db, job.id);
  const ground: DocumentGround = {
    kind: 'document',
    document: document.id,
    name: document.name,
    places,
    codes: [
      {
        id: 'c',
        stamp: view.document.stamps[0]!.id,
        widthMm: 30,
        heightMm: 30,
        at: { kind: 'picture', part: 'word/document.xml', picture: 0 },
      },
    ],
    blocks: [],
  };
  await changeJob(
    t.db,
    job.id,
    {
      version: view.version,
      document: { ...view.document, piece: { ...view.document.piece, ground } },
    },
    'test',
  );
  const id = await runs.run(job.id, { output: { kind: 'docx-one' } });
  expect(await viewRun(t.db, id)).toMatchObject({ state: 'done', failed: 0, codes: 3, read: 3 });
  const bytes = await runs.bytesOf(id, '.docx');
  const files = unzipSync(bytes);
  const text = (name: string) => Buffer.from(files[name]!).toString();
  const body = text('word/document.xml');
  for (const pattern of [
    /<wp:docPr[^>]* id="(\d+)"/g,
    /<w:bookmarkStart[^>]* w:id="(\d+)"/g,
    /<w:bookmarkStart[^>]* w:name="([^"]+)"/g,
    /<w:footnoteReference[^>]* w:id="(\d+)"/g,
    / r:embed="([^"]+)"/g,
  ]) {
    const ids = idsIn(body, pattern);
    expect(ids.length).toBeGreaterThanOrEqual(3);
    expect(new Set(ids).size).toBe(ids.length);
  }
  expect(idsIn(body, /w:anchor="([^"]+)"/g)).toEqual(
    idsIn(body, /<w:bookmarkStart[^>]* w:name="([^"]+)"/g),
  );
  const notes = idsIn(text('word/footnotes.xml'), / w:id="(-?\d+)"/g);
  expect(notes).toHaveLength(4);
  expect(new Set(notes).size).toBe(4);
  // the notes of the second and the third begin with 1 again
  const restarts = idsIn(body, /<w:footnotePr[^>]*><w:numRestart w:val="(\w+)"/g);
  expect(restarts).toEqual(['eachSect', 'eachSect']);
  for (const section of body.match(/<w:sectPr[\s\S]*?<\/w:sectPr>/g) ?? [])
    expect(section).not.toMatch(/<w:pg(Sz|Mar|NumType)[\s\S]*<w:footnotePr/);
  // every part that is named is there
  const relations = text('word/_rels/document.xml.rels');
  for (const target of idsIn(relations, /Target="([^"]+)"/g))
    expect(files[target!.startsWith('/') ? target!.slice(1) : `word/${target}`]).toBeDefined();
  const ids = idsIn(relations, / Id="([^"]+)"/g);
  expect(new Set(ids).size).toBe(ids.length);
  for (const used of idsIn(body, / r:(?:id|embed)="([^"]+)"/g)) expect(ids).toContain(used);
  // it is brought in again like a user's document, and LibreOffice renders it
  expect(inspectDocx(bytes).texts[0]!.paragraphs.join(' ')).toContain('Teo Brandt');
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-test-'));
  try {
    writeFileSync(join(folder, 'all.docx'), bytes);
    execFileSync(
      'soffice',
      [
        `-env:UserInstallation=file://${folder}/profile`,
        '--headless',
        '--convert-to',
        'pdf',
        '--outdir',
        folder,
        join(folder, 'all.docx'),
      ],
      { stdio: 'ignore' },
    );
    const pdf = readFileSync(join(folder, 'all.pdf'));
    const pages = renderPdf(pdf, 300);
    expect(pages).toHaveLength(3);
    for (const [i, page] of pages.entries())
      expect((await readAll(page)).map((r) => r.text)).toEqual([loans[i]![0]]);
    const said = pdfText(pdf)
      .split('\f')
      .map((page) => page.replace(/\s+/g, ' '));
    for (const [i, [loan, name]] of loans.entries()) {
      expect(said[i]).toContain(`Agreement ${loan}`);
      expect(said[i]).toContain(name);
      expect(said[i]).toContain(`Kept under ${loan}.`);
      expect(said[i]).toContain('1) comes 2) goes');
      expect(said[i]).toContain('Marram Bay');
    }
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  const again = await runAgain(t.db, id, 'test');
  await runs.work();
  expect(await runs.bytesOf(again, '.docx')).toEqual(bytes);
});

test('a blank holds its record back where that is wanted, and far too long words are worth a look', async () => {
  const { id: job } = await documentJob((ground) => ({
    ...ground,
    places: ground.places.map((p) => ({ ...p, blank: p.block ? p.blank : ('hold' as const) })),
  }));
  await runs.work();
  const { rejudgeList } = await import('../../../src/server/judging/judge');
  const { list_id } = await t.db
    .selectFrom('jobs')
    .select('list_id')
    .where('id', '=', job)
    .executeTakeFirstOrThrow();
  await rejudgeList(t.db, list_id);
  const { rows } = await ledgerRows(t.db, job, { ...viewSchema.parse({}), offset: 0, limit: 10 });
  expect(rows.map((r) => [r.marks.piece, r.notes.map((n) => n.text)])).toEqual([
    ['ready', []],
    ['ready', []],
    ['look', ['“30 September 2027” in the document is blank for this record']],
  ]);
});

test('what is made of sheets is not made of a document, and that is said', async () => {
  const { id: job } = await documentJob();
  await expect(
    startRun(t.db, job, { name: 'x', which: 'with-code', output: { kind: 'pdf' } }, 'test'),
  ).rejects.toThrow('one PDF for print cannot be made from a document of your own');
});

test('where LibreOffice is missing or hangs, the run says so and nothing is left behind', async () => {
  const { converted } = await import('../../../src/server/documents');
  const path = process.env.PATH;
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-test-'));
  try {
    process.env.PATH = folder;
    await expect(converted([example], 'docx to pdf')).rejects.toThrow(/libreoffice-writer-nogui/);
    // one that fails at once leaves no PDF
    writeFileSync(join(folder, 'soffice'), '#!/bin/sh\nexit 1\n');
    chmodSync(join(folder, 'soffice'), 0o755);
    await expect(converted([example], 'docx to pdf')).rejects.toThrow(/could not make a PDF/);
    // one that hangs is killed with all it started
    const pids = join(folder, 'pids');
    writeFileSync(
      join(folder, 'soffice'),
      `#!/bin/sh\n/bin/sleep 600 &\necho $$ $! > ${pids}\nwait\n`,
    );
    await expect(converted([example], 'docx to pdf', 1, 1500)).rejects.toThrow(
      /did not finish within 2 s and was stopped/,
    );
    const started = readFileSync(pids, 'utf8').trim().split(' ').map(Number);
    expect(started).toHaveLength(2);
    for (const pid of started)
      await expect.poll(() => isAlive(pid), { timeout: 20_000 }).toBe(false);
  } finally {
    process.env.PATH = path;
    rmSync(folder, { recursive: true });
  }
  expect(readdirSync(tmpdir()).filter((n) => n.startsWith('hand-stamp-documents-'))).toEqual([]);
});

test('documents that another program saved: tables in tables, footnotes, styles; text as expected, every code reads', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-test-'));
  try {
    const rtf =
      '{\\rtf1\\ansi{\\fonttbl{\\f0 Liberation Serif;}}\\f0\\fs24 Dear {\\b Odile} Fenwick,\\par your loan L-0007{\\footnote Kept under L-0007.} is due back by 30 September 2027.\\par ODILE FENWICK\\par Code: here\\par}';
    writeFileSync(join(folder, 'letter.rtf'), rtf);
    const convert = (to: string, from: string) =>
      execFileSync(
        'soffice',
        [
          `-env:UserInstallation=file://${folder}/profile`,
          '--headless',
          '--convert-to',
          to,
          '--outdir',
          folder,
          join(folder, from),
        ],
        { stdio: 'ignore' },
      );
    convert('odt', 'letter.rtf');
    convert('docx', 'letter.odt');
    const bytes = readFileSync(join(folder, 'letter.docx'));
    const job = await runs.job(['Loan', 'Borrower', 'Due'], ['key', 'name', 'text'], loans);
    const document = await keepDocument(t.db, 'letter.docx', bytes, 'test');
    const { writtenFor, places } = await findInDocument(t.db, job.id, { document: document.id });
    expect(writtenFor?.title).toBe('Odile Fenwick');
    expect(places.map((p) => p.example)).toEqual([
      'Odile Fenwick',
      'L-0007',
      '30 September 2027',
      'ODILE FENWICK',
      'L-0007',
    ]);
    const { version, document: whole } = await viewJob(t.db, job.id);
    const text = document.facts.texts[0]!;
    const paragraph = text.paragraphs.findIndex((p) => p.includes('here'));
    const from = text.paragraphs[paragraph]!.indexOf('here');
    const ground: DocumentGround = {
      kind: 'document',
      document: document.id,
      name: document.name,
      places,
      codes: [
        {
          id: 'c',
          stamp: whole.stamps[0]!.id,
          widthMm: 25,
          heightMm: 25,
          at: { kind: 'words', part: text.part, paragraph, from, to: from + 4 },
        },
      ],
      blocks: [],
    };
    await changeJob(
      t.db,
      job.id,
      { version, document: { ...whole, piece: { ...whole.piece, ground } } },
      'test',
    );
    const { run, bytes: zip } = await made(job.id, 'document-pdf-each');
    expect(run).toMatchObject({ state: 'done', failed: 0, read: 3 });
    const [, pdf] = filesOf(zip)[1]!;
    const flat = pdfText(pdf).replace(/\s+/g, ' ');
    expect(flat).toContain('Dear Teo Brandt, your loan L-0008');
    expect(flat).toContain('is due back by 5 March 2027.');
    expect(flat).toContain('TEO BRANDT');
    expect(flat).toContain('Kept under L-0008.');
    expect(flat).not.toContain('Odile');
    expect((await readAll(renderPdf(pdf, 300)[0]!)).map((r) => r.text)).toEqual(['L-0008']);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test('labels in a table, cell by cell: each has its own code, on its own line of the receipt, and made again they are whole', async () => {
  const people = ['Odile Fenwick', 'Teo Brandt', 'Wren Halloran', 'Imke Orme', 'Joss Amadi'].map(
    (name, i) => [`B-${i + 1}`, name],
  );
  const job = await runs.job(['Badge', 'Name'], ['key', 'name'], people);
  const label = paragraph(words('Odile Fenwick')) + paragraph(inline('pic1', 1, 30, 30));
  const bytes = docx({
    media: { 'code.png': picture },
    body: table([4000, 200, 4000], [[label, paragraph(), paragraph()]]) + paragraph(),
  });
  const document = await keepDocument(t.db, 'labels.docx', Buffer.from(bytes), 'test');
  const found = await findInDocument(t.db, job.id, { document: document.id });
  const spot = { part: 'word/document.xml', row: 0, cell: 0 };
  const block = await findInRow(t.db, job.id, {
    ...{ ...spot, document: document.id, list: job.list },
    ...{ record: found.writtenFor!.record, by: '' },
  });
  expect(block).toMatchObject({ match: { by: '', is: '' }, goes: 0, pictures: [0] });
  const view = await viewJob(t.db, job.id);
  const ground: DocumentGround = {
    ...{ kind: 'document', document: document.id, name: document.name, groupBy: '' },
    places: block.places.map((p) => ({ ...p, block: 'b' })),
    codes: [
      {
        ...{ id: 'c', stamp: view.document.stamps[0]!.id, widthMm: 30, heightMm: 30, block: 'b' },
        at: { kind: 'picture', part: 'word/document.xml', picture: 0 },
      },
    ],
    blocks: [{ ...spot, id: 'b', goes: 0, list: job.list, by: '', is: '', members: true }],
  };
  const piece = { ...view.document.piece, ground };
  await changeJob(
    t.db,
    job.id,
    { version: view.version, document: { ...view.document, piece } },
    'test',
  );
  const { id, run, bytes: zip } = await made(job.id, 'document-pdf-each');
  expect(run).toMatchObject({ state: 'done', pieces: 1, codes: 5, failed: 0 });
  const [name, pdf] = filesOf(zip)[0]!;
  expect(name).toBe('all.pdf');
  const read = await readAll(renderPdf(Buffer.from(pdf), 300)[0]!);
  expect(read.map((r) => r.text).sort()).toEqual(people.map(([key]) => key));
  const lines = await receiptPart(t.db, id, { page: 1 });
  expect(lines.map((l) => [l.key, l.title, l.payload, l.place])).toEqual(
    people.map(([key, title], i) => [key, title, key, i + 1]),
  );
  expect(new Set(lines.map((l) => l.record)).size).toBe(5);

  // a document that is made again because one record changed contains all of them
  const rows = await t.db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', job.list)
    .orderBy('position')
    .execute();
  await editCells(
    t.db,
    job.list,
    [{ record: rows[1]!.id, column: 'c2', value: 'Teo Brandt-Hale' }],
    'test',
  );
  await rejudgeList(t.db, job.list);
  expect((await viewJob(t.db, job.id)).counts).toMatchObject({ changed: 1 });
  const wanted = { which: 'changed' as const, output: { kind: 'docx-each' } };
  expect(await proofOf(t.db, job.id, { ...wanted, name: 'x' }, 0)).toMatchObject({ pieces: 1 });
  const again = await runs.run(job.id, wanted);
  const [, one] = filesOf(await runs.bytesOf(again, '.zip'))[0]!;
  expect(inspectDocx(one).texts[0]!.paragraphs.filter(Boolean)).toEqual(
    people.map(([, own]) => own!.replace('Brandt', 'Brandt-Hale')),
  );
  expect((await viewJob(t.db, job.id)).counts).toMatchObject({ changed: 0 });
});

test('a code for each row of another list says what that row says; a change there makes a print out of date, and nothing secret of it comes in', async () => {
  const job = await documentJob((ground) => ({
    ...ground,
    codes: [
      ...ground.codes,
      {
        ...{ id: 'r', stamp: ground.codes[0]!.stamp, widthMm: 20, heightMm: 20, block: 'b' },
        at: { kind: 'words', part: 'word/document.xml', paragraph: 4, from: 0, to: 0 },
        says: [{ kind: 'column', column: 'c1' }],
      },
    ],
  }));
  const other = job.block.match && (await viewJob(t.db, job.id)).document.piece.ground;
  const list = (other as DocumentGround).blocks[0]!.list;
  const { id, run, bytes: zip } = await made(job.id, 'docx-each');
  expect(run).toMatchObject({ state: 'done', pieces: 3, codes: 6, failed: 0 });
  expect(inspectDocx(filesOf(zip)[0]![1]).pictures).toHaveLength(3);
  expect((await receiptPart(t.db, id, { page: 1 })).map((l) => l.payload)).toEqual([
    'L-0007',
    'P-118',
    'P-131',
  ]);
  expect((await viewJob(t.db, job.id)).counts).toMatchObject({ changed: 0 });

  const rows = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', list)
    .orderBy('position')
    .execute();
  await editCells(t.db, list, [{ record: rows[0]!.id, column: 'c3', value: 'Sea rocket' }], 'test');
  await runs.renew();
  expect((await viewJob(t.db, job.id)).counts).toMatchObject({ changed: 1 });

  await t.db
    .updateTable('lists')
    .set({
      columns: sql`(select jsonb_agg(case when c->>'id' = 'c3' then c || '{"secret":true}' else c end) from jsonb_array_elements(columns) c)`,
    })
    .where('id', '=', list)
    .execute();
  const hidden = await runs.run(job.id, { output: { kind: 'docx-each' } });
  const kept = await t.db
    .selectFrom('run_items')
    .select('values')
    .where('run_id', '=', hidden)
    .execute();
  expect(JSON.stringify(kept)).toContain('P-118');
  expect(JSON.stringify(kept)).not.toContain('rocket');
});

test('folders that a killed process left are removed once nobody can be at work in them', async () => {
  const left = mkdtempSync(join(tmpdir(), 'hand-stamp-documents-'));
  writeFileSync(join(left, '0.docx'), 'x');
  await sweepFolders();
  expect(existsSync(left)).toBe(true);
  const before = Date.now() / 1000 - 3 * 60 * 60;
  utimesSync(left, before, before);
  await sweepFolders();
  expect(existsSync(left)).toBe(false);
});

test('before a run it is told what of the example is still in the document of another', async () => {
  const stays = async (change: (ground: DocumentGround) => DocumentGround) => {
    const { id } = await documentJob(change);
    const wanted = { name: 'x', which: 'ready' as const, output: { kind: 'docx-each' } };
    return (await proofOf(t.db, id, wanted, 0)).stays;
  };
  const taken = (ground: DocumentGround): DocumentGround => ({
    ...ground,
    places: ground.places.map((place) => ({ ...place, likely: undefined })),
  });
  expect(await stays(taken)).toBeUndefined();
  // the name in the text follows no column
  const without = (ground: DocumentGround): DocumentGround => ({
    ...taken(ground),
    places: taken(ground).places.filter((p) => !p.example.includes('Odile')),
  });
  expect(await stays(without)).toEqual({
    madeFor: 'Teo Brandt',
    values: [{ column: 'c2', value: 'Odile Fenwick' }],
  });
});
