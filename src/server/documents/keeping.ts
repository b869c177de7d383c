import { createHash } from 'node:crypto';
import { documentFactsSchema, type DocumentView } from '../../contract';
import type { DocumentBlock } from '../../core/piece/ground';
import { isHtml } from '../../core/documents/html';
import type { Lock, PdfFacts } from '../../core/documents/pdf';
import { checkRoom, type Database, lanes, Refusal, unseal, WorkEnded } from '../platform';

const pieceSize = 512 * 1024;
/** In ms, for looking through one document. */
const timeLimit = 60_000;

/**
 * Stores a document as it came; the same bytes are stored once. @throws Refusal in words if it
 * cannot be used
 */
export async function keepDocument(
  db: Database,
  name: string,
  bytes: Buffer,
  actor: string,
): Promise<DocumentView> {
  await checkRoom(db);
  const kind = isHtml(name, bytes) ? 'html' : 'docx';
  const hash = createHash('sha256').update(bytes).digest('hex');
  const known = await db
    .selectFrom('documents')
    .select(['id', 'name', 'kind', 'size', 'facts'])
    .where('hash', '=', hash)
    .where('name', '=', name)
    .where('kind', '=', kind)
    .executeTakeFirst();
  if (known) return checked(known);
  const facts = await looked(name, kind, bytes);
  return db.transaction().execute(async (tx) => {
    const { id } = await tx
      .insertInto('documents')
      .values({
        kind,
        name,
        size: bytes.length,
        hash,
        facts: JSON.stringify(facts),
        created_by: actor,
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    await writePieces(tx, id, bytes);
    return { id, name, kind, size: bytes.length, facts };
  });
}

/** Keeps the bytes of a document in pieces. */
export async function writePieces(tx: Database, id: number, bytes: Buffer): Promise<void> {
  for (let at = 0, number = 0; at < bytes.length; at += pieceSize, number++)
    await tx
      .insertInto('document_pieces')
      .values({ document_id: id, number, bytes: bytes.subarray(at, at + pieceSize) })
      .execute();
}

async function looked(name: string, kind: 'docx' | 'html', bytes: Buffer) {
  try {
    return await lanes.pictures.do('document', { bytes, kind }, timeLimit);
  } catch (error) {
    if (error instanceof WorkEnded)
      throw new Refusal(`${name} could not be read: it ${error.message}.`);
    if (error instanceof Error && error.name === 'DocumentError')
      throw new Refusal(`${name}: ${error.message}`);
    throw error;
  }
}

/** The analysis of a document, checked: an earlier version of the program may have stored it. */
const checked = (
  row: Omit<DocumentView, 'facts' | 'kind'> & { facts: unknown; kind: string },
): DocumentView => ({
  ...row,
  kind: row.kind === 'html' ? 'html' : 'docx',
  facts: documentFactsSchema.parse(row.facts),
});

/** @throws NoResultError when there is none */
export const viewDocument = async (db: Database, id: number): Promise<DocumentView> =>
  checked(
    await db
      .selectFrom('documents')
      .select(['id', 'name', 'kind', 'size', 'facts'])
      .where('id', '=', id)
      .where('kind', 'in', ['docx', 'html'])
      .executeTakeFirstOrThrow(),
  );

/** A document as it came in. @throws NoResultError when there is none */
export async function documentBytes(
  db: Database,
  id: number,
  kind: 'docx' | 'html' | 'pdf',
): Promise<Buffer> {
  await db
    .selectFrom('documents')
    .select('id')
    .where('id', '=', id)
    .where('kind', '=', kind)
    .executeTakeFirstOrThrow();
  const pieces = await db
    .selectFrom('document_pieces')
    .select('bytes')
    .where('document_id', '=', id)
    .orderBy('number')
    .execute();
  return Buffer.concat(pieces.map((p) => p.bytes));
}

/** A copy in which every run has a name that leads from the screen to its place. */
export async function shownDocument(
  db: Database,
  id: number,
): Promise<{ kind: 'docx' | 'html'; bytes: Uint8Array }> {
  const { kind } = await viewDocument(db, id);
  const bytes = await lanes.pictures.do(
    'shown-document',
    { kind, bytes: await documentBytes(db, id, kind) },
    timeLimit,
  );
  return { kind, bytes };
}

/** The paragraphs and pictures of an example that repeat with a block. */
export const blockInside = async (
  db: Database,
  id: number,
  kind: 'docx' | 'html',
  block: DocumentBlock,
): Promise<{ paragraphs: number[]; pictures: readonly number[] }> =>
  lanes.pictures.do(
    'document-block',
    { kind, bytes: await documentBytes(db, id, kind), block },
    timeLimit,
  );

/** The password of a locked document; undefined if it is not locked. */
export async function documentLock(db: Database, id: number): Promise<Lock | undefined> {
  const { facts, password } = await db
    .selectFrom('documents')
    .select(['facts', 'password'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
  const { locked } = facts as Partial<PdfFacts>;
  return locked && password ? { locked, password: unseal(password) } : undefined;
}

/** SHA-256 of a document as it came; what is made of it contains this. */
export const documentHash = async (db: Database, id: number): Promise<string> =>
  (await db.selectFrom('documents').select('hash').where('id', '=', id).executeTakeFirstOrThrow())
    .hash;
