/**
 * Documents and PDFs of a run on the real queue and database, every code read back, beside the
 * libraries that open and draw them.
 */
import { PDFDocument, StandardFonts } from '@cantoo/pdf-lib';
import { unzipSync, zipSync } from 'fflate';
import { docx, inline, paragraph, run as words } from '../demo/docx';
import { inspectPdf } from '../src/core/documents/pdf';
import { keysIn } from '../src/core/documents/keys';
import { inspectDocx } from '../src/core/documents';
import { renderPng } from '../src/core/artwork/png';
import { defaultLook } from '../src/core/look/look';
import { encode } from '../src/core/symbology';
import { changeJob, viewJob } from '../src/server/jobs/jobs';
import { judgeListNow } from '../src/server/judging/judge';
import { greyPages } from '../src/server/documents/pdf-pages';
import { keepDocument } from '../src/server/documents/keeping';
import type { Database } from '../src/server/platform/db';
import type { Ground } from '../src/core/piece/ground';
import { report } from './measure';
import { jobOf, withDatabase, timeRun } from './workers';

const many = 1000;
const few = 100;

/** Two pages of prose with a place for a code. */
function letter(): Uint8Array {
  const code = renderPng(encode('qr', 'DH-00001', { level: 'M' }), defaultLook);
  const prose = Array.from({ length: 60 }, () =>
    paragraph(words('The packets are lent for one season, to be grown and brought back in kind. ')),
  );
  return docx({
    media: { 'code.png': code },
    header: paragraph(words('Agreement DH-00001')),
    body:
      paragraph(inline('pic1', 1, 30, 30)) +
      paragraph(words('Between the library and Ines Okafor 1.')) +
      prose.join(''),
  });
}

async function putOn(db: Database, job: number, ground: Ground): Promise<void> {
  const { version, document, list } = await viewJob(db, job);
  await changeJob(
    db,
    job,
    { version, document: { ...document, piece: { ...document.piece, ground } } },
    'bench',
  );
  await judgeListNow(db, list.id);
}

async function documentJob(db: Database, count: number): Promise<number> {
  const job = await jobOf(db, count);
  const kept = await keepDocument(db, `letter-${count}.docx`, Buffer.from(letter()), 'bench');
  const { document } = await viewJob(db, job);
  const at = (part: string, example: string, column: string) => {
    const texts = kept.facts.texts.find((t) => t.part.includes(part))!;
    const number = texts.paragraphs.findIndex((p) => p.includes(example));
    const from = texts.paragraphs[number].indexOf(example);
    return {
      id: example,
      part: texts.part,
      paragraph: number,
      from,
      to: from + example.length,
      example,
      parts: [{ kind: 'column' as const, column }],
      blank: 'words' as const,
    };
  };
  await putOn(db, job, {
    kind: 'document',
    document: kept.id,
    name: kept.name,
    places: [at('document', 'Ines Okafor 1', 'c2'), at('header', 'DH-00001', 'c1')],
    codes: [
      {
        id: 'c',
        stamp: document.stamps[0].id,
        widthMm: 30,
        heightMm: 30,
        at: { kind: 'picture', part: 'word/document.xml', picture: 0 },
      },
    ],
    blocks: [],
  });
  return job;
}

async function page(): Promise<Buffer> {
  const document = await PDFDocument.create();
  const font = await document.embedFont(StandardFonts.Helvetica);
  for (let n = 0; n < 2; n++) {
    const sheet = document.addPage([595, 842]);
    for (let line = 0; line < 40; line++)
      sheet.drawText('The packets are lent for one season, to be grown and brought back.', {
        x: 60,
        y: 780 - line * 15,
        size: 11,
        font,
      });
  }
  return Buffer.from(await document.save());
}

/** Many PDFs that are alike, each known by its name. */
async function pdfsJob(db: Database, count: number): Promise<number> {
  const job = await jobOf(db, count);
  const { id: set } = await db
    .insertInto('document_sets')
    .values({ name: 'bench', created_by: 'bench' })
    .returning('id')
    .executeTakeFirstOrThrow();
  const bytes = await page();
  const facts = JSON.stringify(await inspectPdf(bytes));
  for (let i = 1; i <= count; i++) {
    const name = `DH-${String(i).padStart(5, '0')}`;
    const { id } = await db
      .insertInto('documents')
      .values({
        kind: 'pdf',
        name: `${name}.pdf`,
        size: bytes.length,
        hash: `bench-${count}-${i}`,
        facts,
        created_by: 'bench',
        set_id: set,
        name_keys: keysIn(name, 4),
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    await db.insertInto('document_pieces').values({ document_id: id, number: 0, bytes }).execute();
  }
  const { document } = await viewJob(db, job);
  await putOn(db, job, {
    kind: 'pdfs',
    set,
    name: 'bench',
    knownBy: 'name',
    column: 'c1',
    said: [],
    stamp: document.stamps[0].id,
    sizeMm: 20,
    corner: 'bottom right',
    acrossMm: 12,
    downMm: 12,
    pages: 'first',
  });
  return job;
}

async function seconds(work: () => Promise<unknown> | void): Promise<number> {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1000;
}

export async function benchDocuments(): Promise<void> {
  await withDatabase(async (db, url) => {
    const example = letter();
    if (inspectDocx(example).pictures.length !== 1) throw new Error('the example has no picture');
    const alone = await seconds(() => {
      for (let i = 0; i < many; i++) zipSync(unzipSync(example));
    });
    await measure(db, url, documentJob, {
      kind: 'docx-each',
      name: 'DOCX of two pages, one code',
      peer: 'unpacking and packing them alone (fflate)',
      alone,
    });
    const one = await page();
    const drawn = await seconds(async () => {
      for (let i = 0; i < few; i++) for await (const _ of greyPages(one, [0])) void _;
    });
    await measure(db, url, pdfsJob, {
      kind: 'pdfs-each',
      name: 'PDFs of two pages, a code on the first',
      peer: 'drawing their first pages alone (pdfjs-dist)',
      alone: (drawn / few) * many,
    });
  });
}

async function measure(
  db: Database,
  url: string,
  jobFor: (db: Database, count: number) => Promise<number>,
  { kind, name, peer, alone }: { kind: string; name: string; peer: string; alone: number },
): Promise<void> {
  const [small, large] = [await jobFor(db, few), await jobFor(db, many)];
  const little = await timeRun(db, url, small, 1, undefined, kind);
  const one = await timeRun(db, url, large, 1, undefined, kind);
  const two = await timeRun(db, url, large, 2, undefined, kind);
  report(
    `${name}, made and read back a second, beside ${peer}`,
    many / one.made,
    many / alone,
    'higher',
  );
  report(`the same by two workers, in seconds, beside one`, two.made, one.made, 'lower');
  report(
    `peak memory of a worker over ${many} of them, in MB, beside ${few}`,
    one.peak,
    little.peak,
    'lower',
  );
}
