import type { Database } from './db';

const pieceSize = 512 * 1024;

/** Keeps a file in pieces as it is made; the whole is never in memory. */
export async function writeFile(
  db: Database,
  runId: number,
  name: string,
  mime: string,
  parts: AsyncIterable<Uint8Array>,
): Promise<number> {
  const { id } = await db
    .insertInto('files')
    .values({ run_id: runId, name, mime, size: 0 })
    .returning('id')
    .executeTakeFirstOrThrow();
  let waiting: Uint8Array[] = [];
  let held = 0;
  let number = 0;
  let size = 0;
  const flush = async () => {
    if (held === 0) return;
    await db
      .insertInto('file_pieces')
      .values({ file_id: id, number: number++, bytes: Buffer.concat(waiting) })
      .execute();
    waiting = [];
    held = 0;
  };
  for await (const part of parts) {
    for (let at = 0; at < part.length;) {
      const take = part.subarray(at, at + pieceSize - held);
      waiting.push(Uint8Array.from(take));
      held += take.length;
      size += take.length;
      at += take.length;
      if (held >= pieceSize) await flush();
    }
  }
  await flush();
  await db.updateTable('files').set({ size }).where('id', '=', id).execute();
  return id;
}

/** Reads a file piece by piece. */
export async function* readFilePieces(db: Database, id: number): AsyncGenerator<Uint8Array> {
  for (let number = 0; ; number++) {
    const piece = await db
      .selectFrom('file_pieces')
      .select('bytes')
      .where('file_id', '=', id)
      .where('number', '=', number)
      .executeTakeFirst();
    if (!piece) return;
    yield piece.bytes;
  }
}

/** Name, type and size in bytes of a file. @throws NoResultError if there is none */
export const fileHead = (db: Database, id: number) =>
  db
    .selectFrom('files')
    .select(['id', 'name', 'mime', 'size'])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();
