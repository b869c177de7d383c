import { unzipSync } from 'fflate';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { inspectDocx } from '../../src/core/documents';
import type { DocumentGround } from '../../src/core/piece/piece';
import { changeMailServer } from '../../src/server/delivery';
import { sendMails } from '../../src/server/delivery/mails';
import { findInDocument, keepDocument, pageOfRecord } from '../../src/server/documents';
import { changeJob, viewJob } from '../../src/server/jobs';
import { viewRun } from '../../src/server/runs/run-views';
import { runAgain } from '../../src/server/runs/runs';
import { readAll } from '../helpers/barcode';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { mailServer, mailSettings } from '../helpers/mail-server';
import { pdfText, renderPdf } from '../helpers/poppler';
import { runsIn } from '../helpers/runs';

let t: TestDatabase;
beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests';
  t = await testDatabase();
});
afterAll(() => t.close());
const runs = runsIn(() => t);

const friends = [
  ['F00003', 'Imke Orme', 'imke@post.example'],
  ['F00004', 'Tam <Mereweather>', 'tam@post.example'],
];
const dot =
  'data:image/png;base64,iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNgAAAAAgABSK+kcQAAAABJRU5ErkJggg==';
const page = `<!doctype html><html><head><style>p { color: #333333 } body { background: #fafafa }</style></head><body>
<img src="${dot}" width="40" height="40" alt="A leaf">
<p>Dear Imke Orme,</p><p id="no">your number is F00003.</p>
<img src="${dot}" width="180" height="180" alt="Where the code comes">
<script>alert(1)</script></body></html>`;

async function pageJob() {
  const job = await runs.job(
    ['Friend no', 'Name', 'E-mail'],
    ['key', 'name', 'email'],
    friends,
    'Friends',
  );
  const document = await keepDocument(t.db, 'invitation.html', Buffer.from(page), 'test');
  const found = await findInDocument(t.db, job.id, { document: document.id });
  const { version, document: whole } = await viewJob(t.db, job.id);
  const ground: DocumentGround = {
    kind: 'html',
    document: document.id,
    name: document.name,
    writtenFor: found.writtenFor!,
    places: found.places,
    codes: [
      {
        id: 'c',
        stamp: whole.stamps[0].id,
        widthMm: document.facts.pictures[1].widthMm,
        heightMm: document.facts.pictures[1].heightMm,
        at: { kind: 'picture', part: 'page.html', picture: 1 },
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
  return { ...job, found, document };
}

/** Pictures of a page that stand in it, as bytes. */
const picturesIn = (html: string): Buffer[] =>
  [...html.matchAll(/src="data:image\/png;base64,([^"]+)"/g)].map((m) =>
    Buffer.from(m[1], 'base64'),
  );

test('a page is found to be that of its record, and each record gets its own with its code, which reads', async () => {
  const job = await pageJob();
  expect(job.found.writtenFor?.title).toBe('Imke Orme');
  expect(job.document).toMatchObject({ kind: 'html' });
  expect(job.document.facts.notes).toEqual(['1 part that runs or asks something left out']);
  const id = await runs.run(job.id, { output: { kind: 'html-each' } });
  expect(await viewRun(t.db, id)).toMatchObject({ state: 'done', codes: 2, read: 2, failed: 0 });
  const files = Object.entries(unzipSync(await runs.bytesOf(id, '.zip'))).filter(([name]) =>
    name.endsWith('.html'),
  );
  expect(files.map(([name]) => name.replace(/^.*\//, ''))).toEqual(['F00003.html', 'F00004.html']);
  for (const [i, [, bytes]] of files.entries()) {
    const html = Buffer.from(bytes).toString();
    expect(html).toContain(friends[i][0]);
    expect(html).not.toContain('<script');
    expect((await readAll(picturesIn(html)[1])).map((r) => r.text)).toEqual([friends[i][0]]);
  }
  expect(Buffer.from(files[1][1]).toString()).toContain('Dear Tam &lt;Mereweather&gt;,');
  const again = await runAgain(t.db, id, 'test');
  await runs.work();
  expect(await runs.bytesOf(again, '.zip')).toEqual(await runs.bytesOf(id, '.zip'));
});

test('one page of all has each of them, its styles once, and no name twice', async () => {
  const job = await pageJob();
  const id = await runs.run(job.id, { output: { kind: 'html-one' } });
  const html = (await runs.bytesOf(id, '.html')).toString();
  expect(html.match(/class="record"/g)).toHaveLength(2);
  expect(html.match(/id="no"/g)).toHaveLength(1);
  expect(html.match(/color: #333333/g)).toHaveLength(1);
  const read = [];
  for (const picture of picturesIn(html).filter((p) => p.length > 200))
    read.push(...(await readAll(picture)).map((r) => r.text));
  expect(read).toEqual(['F00003', 'F00004']);
});

test('as a mail its styles are in line and its pictures inside the mail, and the code that came reads', async () => {
  const post = await mailServer();
  await changeMailServer(t.db, mailSettings(post.port));
  const job = await pageJob();
  const id = await runs.run(job.id, { output: { kind: 'mail' } });
  await sendMails(t.db, id);
  expect(post.taken.map((m) => m.to)).toEqual(['imke@post.example', 'tam@post.example']);
  const [{ mail, raw }] = post.taken;
  expect(mail.text).toContain('Dear Imke Orme,');
  expect(mail.html).toContain('style="color: #333333;"');
  expect(raw.toString()).not.toContain('src="data:');
  // a picture that stands in it twice is brought once
  expect(mail.attachments.map((a) => a.filename)).toEqual(['picture-1.png', 'picture-2.png']);
  expect((await readAll(mail.attachments[1].content)).map((r) => r.text)).toEqual(['F00003']);
  await post.close();
});

test('the page of a record as a mail would bring it, for the screen', async () => {
  const job = await pageJob();
  const { id } = await t.db
    .selectFrom('records')
    .select('id')
    .where('list_id', '=', job.list)
    .orderBy('position', 'desc')
    .limit(1)
    .executeTakeFirstOrThrow();
  const html = await pageOfRecord(t.db, job.id, id);
  expect(html).toContain('your number is F00004.');
  expect((await readAll(picturesIn(html)[1])).map((r) => r.text)).toEqual(['F00004']);
});

test('a page becomes a DOCX and a PDF for each record; the code in the finished file reads', async () => {
  const job = await pageJob();
  const filesOf = async (id: number): Promise<[string, Uint8Array][]> =>
    Object.entries(unzipSync(await runs.bytesOf(id, '.zip'))).filter(([name]) =>
      /\.(docx|pdf)$/.test(name),
    );
  const id = await runs.run(job.id, { output: { kind: 'html-docx-each' } });
  expect(await viewRun(t.db, id)).toMatchObject({ state: 'done', codes: 2, read: 2, failed: 0 });
  const documents = await filesOf(id);
  for (const [i, [name, bytes]] of documents.entries()) {
    expect(name).toContain(`${friends[i][0]}.docx`);
    const { texts } = inspectDocx(bytes);
    expect(texts[0].paragraphs).toContain(`Dear ${friends[i][1]},`);
    const codes = Object.entries(unzipSync(bytes)).filter(
      ([path, file]) => /media\//.test(path) && file.length > 200,
    );
    expect((await readAll(Buffer.from(codes[0][1]))).map((r) => r.text)).toEqual([friends[i][0]]);
  }
  const again = await runAgain(t.db, id, 'test');
  await runs.work();
  expect((await filesOf(again)).map(([, file]) => Buffer.from(file))).toEqual(
    documents.map(([, file]) => Buffer.from(file)),
  );

  const pdfs = await runs.run(job.id, { output: { kind: 'document-pdf-each' } });
  expect(await viewRun(t.db, pdfs)).toMatchObject({ state: 'done', codes: 2, read: 2, failed: 0 });
  for (const [i, [, bytes]] of (await filesOf(pdfs)).entries()) {
    expect(pdfText(Buffer.from(bytes))).toContain(`Dear ${friends[i][1]},`);
    const [sheet] = renderPdf(Buffer.from(bytes), 300);
    expect((await readAll(sheet)).map((r) => r.text)).toEqual([friends[i][0]]);
  }
});
