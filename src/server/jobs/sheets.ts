import type { sheetSchema, typedListSchema } from '../../contract';
import type { z } from 'zod';
import type { JobDocument } from '../../core/job/document';
import { firstStamp } from '../../core/payload/stamp';
import { firstPiece } from '../../core/piece/starters';
import { starters } from '../../core/piece/starters';
import { stocks } from '../../core/piece/stock';
import { keyIsSaid, sheetFor, stampFor } from '../../core/payload/sheets';
import { defaultRunOptions } from '../../core/run/plan';
import { csvLines, type Database, newWorkbook } from '../platform';
import { addRecords, createJob, createList, renewJob, renewList } from '../lists';

/**
 * A blank sheet with the headings that a purpose wants. All its cells are text, so that no zero is
 * lost in filling it.
 */
export async function blankSheet({
  purpose,
  as,
}: z.infer<typeof sheetSchema>): Promise<Uint8Array> {
  const headings = sheetFor(purpose).map((c) => c.heading);
  if (as === 'csv') return new TextEncoder().encode(csvLines([headings], { bom: true }));
  const book = await newWorkbook();
  const sheet = book.addWorksheet('Records', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = headings.map((header) => ({
    header,
    width: Math.max(14, header.length + 4),
    style: { numFmt: '@' },
  }));
  sheet.getRow(1).font = { bold: true };
  return new Uint8Array(await book.xlsx.writeBuffer());
}

/**
 * A list to type into, with the columns of a purpose and its stamp, and one record: blank, or the
 * text of a poster. Returns its job.
 */
export async function startTypedList(
  db: Database,
  { name, purpose, sign }: z.infer<typeof typedListSchema>,
  actor: string,
): Promise<number> {
  const sheet = sheetFor(purpose);
  const { listId, jobId, columns } = await db.transaction().execute(async (tx) => {
    const list = await createList(tx, {
      name,
      source: 'typing',
      origin: { kind: 'typed' },
      headings: sheet.map((c) => c.heading),
      // a single record needs no key, unless its code contains it
      roles: sheet.map((c) => (sign && c.role === 'key' && !keyIsSaid(purpose) ? 'text' : c.role)),
      rows: [],
      note: sign ? 'A fixed sign' : 'A list to type into',
      actor,
    });
    const stamp = stampFor(purpose, firstStamp(list.columns), list.columns);
    const starter = starters.find((s) => s.id === sign?.design);
    const document: JobDocument = {
      stamps: [stamp],
      piece:
        starter?.make(
          stamp,
          list.columns.filter((c, i) => i > 0 || c.role === 'key'),
        ) ?? firstPiece(stocks[0]!, stamp, list.columns),
      options: { ...defaultRunOptions, copies: sign?.copies ?? 1 },
    };
    return {
      listId: list.id,
      columns: list.columns,
      jobId: await createJob(tx, name, list.id, list.columns, actor, document),
    };
  });
  await addRecords(
    db,
    listId,
    [Object.fromEntries(columns.map((c) => [c.id, sign?.values[c.name] ?? '']))],
    actor,
  );
  // all of it is new, the one record too: it is judged before anybody looks
  await renewList(db, listId);
  await renewJob(db, jobId);
  return jobId;
}
