import { createHash } from 'node:crypto';
import type { PdfFacts } from '../../core/documents/pdf';
import { pagesWithCode, withCaption } from '../../core/documents/place';
import { coveredPage, FreeSpace, placeOn } from '../../core/documents/room';
import { readJob } from '../../core/job/document';
import { corners, isCorner, type Corner } from '../../core/piece/ground';
import { keysIn } from '../../core/documents/keys';
import { pdfsOf } from '../../core/grounds';
import { titleColumn } from '../../core/records/columns';
import type { PdfsInJob } from '../../contract';
import { changedJob, pdfsFor } from '../judging';
import { checkRoom, type Database, lanes, Refusal, seal, WorkEnded } from '../platform';
import { documentBytes, documentLock, writePieces } from './keeping';

/** In ms, for looking through one document. */
const timeLimit = 60_000;
/** Most documents of one job, and most bytes of all of them. */
const mostDocuments = 5000;
const mostOfSet = 500 * 2 ** 20;

export async function startSet(db: Database, name: string, actor: string): Promise<number> {
  const { id } = await db
    .insertInto('document_sets')
    .values({ name, created_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

/**
 * Stores a PDF as it came. One that carries our code already is recognized by what it contains, and
 * its own original is stored instead. A file of the same name replaces the earlier one.
 * @throws Refusal in words
 */
export async function keepPdf(
  db: Database,
  set: number,
  name: string,
  given: Buffer,
  actor: string,
  password?: string,
): Promise<{ name: string; id?: number; note?: string; locked?: string }> {
  await checkRoom(db);
  await db.selectFrom('document_sets').select('id').where('id', '=', set).executeTakeFirstOrThrow();
  let bytes = given;
  const seen = await looked(name, bytes, password);
  if ('wants' in seen) return { name, locked: seen.wants };
  let facts = seen;
  let opens = password;
  let note: string | undefined;
  if (facts.origin) {
    const original = await db
      .selectFrom('documents')
      .select('id')
      .where('hash', '=', facts.origin)
      .where('kind', '=', 'pdf')
      .executeTakeFirst();
    if (!original)
      throw new Refusal(
        `${name} already carries a Hand Stamp code, and its original is not here. Bring in the original, so that no code covers another.`,
      );
    bytes = await documentBytes(db, original.id, 'pdf');
    opens = (await documentLock(db, original.id))?.password;
    const own = await looked(name, bytes, opens);
    if ('wants' in own) return { name, locked: own.wants };
    facts = own;
    note = 'it carried our code; its original is used';
  }
  const { text, codes, ...kept } = facts;
  const hash = createHash('sha256').update(bytes).digest('hex');
  const keptId = await db.transaction().execute(async (tx) => {
    // one at a time, so that the limit holds for everybody together
    await tx
      .selectFrom('document_sets')
      .select('id')
      .where('id', '=', set)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const { count, size } = await tx
      .selectFrom('documents')
      .select((e) => [e.fn.countAll<number>().as('count'), e.fn.sum<number>('size').as('size')])
      .where('set_id', '=', set)
      .where('name', '<>', name)
      .executeTakeFirstOrThrow();
    if (Number(count) >= mostDocuments)
      throw new Refusal(
        `These are more than ${mostDocuments.toLocaleString('en')} documents at once. Make a separate job for each part.`,
      );
    if (Number(size ?? 0) + bytes.length > mostOfSet)
      throw new Refusal('These are more than 500 MB together. Make a separate job for each part.');
    // the one before stays for the runs that were made of it
    await tx
      .updateTable('documents')
      .set({ set_id: null })
      .where('set_id', '=', set)
      .where('name', '=', name)
      .execute();
    const { id } = await tx
      .insertInto('documents')
      .values({
        kind: 'pdf',
        name,
        size: bytes.length,
        hash,
        facts: JSON.stringify(kept),
        password: kept.locked && opens !== undefined ? seal(opens) : null,
        created_by: actor,
        set_id: set,
        name_keys: keysIn(name.replace(/\.pdf$/i, ''), 4),
        title_keys: keysIn(kept.title, 4),
        text_keys: keysIn(text, 3, true),
        code_keys: [...new Set(codes.flatMap((code) => keysIn(code, 4)))],
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    await writePieces(tx, id, bytes);
    return id;
  });
  return { name, id: keptId, ...(note ? { note } : {}) };
}

type Looked = PdfFacts & { text: string; codes: string[] };

/** The analysis of a PDF, or a message that it needs its password. */
async function looked(
  name: string,
  bytes: Buffer,
  password?: string,
): Promise<Looked | { wants: string }> {
  try {
    return await lanes.pictures.do('pdf', { bytes, password }, timeLimit);
  } catch (error) {
    if (error instanceof Error && error.name === 'LockedError')
      return { wants: `${name}: ${error.message}` };
    if (error instanceof WorkEnded)
      throw new Refusal(`${name} could not be read: it ${error.message}.`);
    if (error instanceof Error && error.name === 'DocumentError')
      throw new Refusal(`${name}: ${error.message}`);
    throw error;
  }
}

/** Reports new documents, so that the records of a job are checked against them. */
export async function documentsCame(db: Database, jobId: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { list_id } = await tx
      .selectFrom('jobs')
      .select('list_id')
      .where('id', '=', jobId)
      .executeTakeFirstOrThrow();
    await changedJob(tx, jobId, list_id);
  });
}

/** The documents of a job, each with the record it is for. */
export async function pdfsInJob(db: Database, jobId: number): Promise<PdfsInJob> {
  const job = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.document', 'lists.id', 'lists.columns'])
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
  const { piece } = readJob(job.document);
  if (piece.ground?.kind !== 'pdfs') return { documents: [], without: 0, room: [] };
  const ground = pdfsOf(piece);
  const rows = await db
    .selectFrom('documents')
    .select(['id', 'name', 'facts'])
    .where('set_id', '=', ground.set)
    .orderBy('name')
    .execute();
  const records = await db
    .selectFrom('records')
    .select(['id', 'values'])
    .where('list_id', '=', job.id)
    .orderBy('position')
    .execute();
  const found = await pdfsFor(db, ground, records);
  const title = titleColumn(job.columns);
  const ofDocument = new Map<number, { id: number; title: string }>();
  for (const { id, values } of records) {
    const pdf = found.get(id);
    if (pdf && !ofDocument.has(pdf.document))
      ofDocument.set(pdf.document, { id, title: (title && values[title.id]) ?? '' });
  }
  /**
   * The nearest place from a corner that is free on all pages of all documents that carry the code.
   */
  const freeFrom = (corner: Corner) => {
    const free = new FreeSpace(corner);
    for (const { facts } of rows) {
      const { pages } = facts as PdfFacts;
      for (const number of pagesWithCode(ground, pages.length)) free.add(pages[number]!);
    }
    const size = withCaption(ground, { widthMm: ground.sizeMm, heightMm: ground.sizeMm });
    return free.nearest(size) ?? null;
  };
  return {
    documents: rows.map(({ id, name, facts }) => {
      const { pages, signed, locked } = facts as PdfFacts;
      return {
        id,
        name,
        pages: pages.map(({ widthMm, heightMm, turn }) => ({ widthMm, heightMm, turn })),
        signed,
        locked: locked !== undefined,
        place: ground.each ? placeOn(ground, pages) : null,
        record: ofDocument.get(id) ?? null,
      };
    }),
    room: [...corners, ...(isCorner(ground.corner) ? [] : [ground.corner])].map((corner) => {
      const covered = rows.filter(
        ({ facts }) => coveredPage({ ...ground, corner }, (facts as PdfFacts).pages) !== undefined,
      );
      return {
        ...{ corner, covers: covered.length, first: covered[0]?.name ?? null },
        free: covered.length > 0 && isCorner(corner) ? freeFrom(corner) : null,
      };
    }),
    without: records.length - found.size,
  };
}

/**
 * A page of a document as a picture, for the screen. @throws Refusal (404) when it has no such page
 */
export async function pageOfDocument(db: Database, id: number, page: number): Promise<Uint8Array> {
  const { facts } = await db
    .selectFrom('documents')
    .select('facts')
    .where('id', '=', id)
    .where('kind', '=', 'pdf')
    .executeTakeFirstOrThrow();
  if (page >= (facts as PdfFacts).pages.length)
    throw new Refusal('This no longer exists. It may have been deleted.', 404);
  return lanes.pictures.do(
    'pdf-page',
    {
      bytes: await documentBytes(db, id, 'pdf'),
      ...{ page, dpi: 110, password: (await documentLock(db, id))?.password },
    },
    timeLimit,
  );
}
