import exceljs from 'exceljs';
import { stringify } from 'csv-stringify/sync';
import { z } from 'zod';
import type { JobDocument } from '../core/job/document';
import { firstStamp } from '../core/payload/stamp';
import { purposeIds } from '../core/payload/purposes';
import { firstPiece } from '../core/piece/piece';
import { stocks } from '../core/piece/stock';
import { sheetFor, stampFor } from '../core/records/sheets';
import { defaultRunOptions } from '../core/run/plan';
import type { Database } from './db';
import { addRecords } from './edits';
import { createJob, createList } from './lists';

export const sheetSchema = z.object({ purpose: z.enum(purposeIds), as: z.enum(['xlsx', 'csv']) });

/** A blank sheet with the headings that a purpose wants. All its cells are text, so that no zero is lost in filling it. */
export async function blankSheet({ purpose, as }: z.infer<typeof sheetSchema>): Promise<Uint8Array> {
  const headings = sheetFor(purpose).map((c) => c.heading);
  if (as === 'csv') return new TextEncoder().encode(stringify([headings], { bom: true }));
  const book = new exceljs.Workbook();
  const sheet = book.addWorksheet('Records', { views: [{ state: 'frozen', ySplit: 1 }] });
  sheet.columns = headings.map((header) => ({ header, width: Math.max(14, header.length + 4), style: { numFmt: '@' } }));
  sheet.getRow(1).font = { bold: true };
  return new Uint8Array(await book.xlsx.writeBuffer());
}

export const typedListSchema = z.object({ name: z.string().trim().min(1, 'Give the list a name.').max(120), purpose: z.enum(purposeIds) });

/** A list to type into, with the columns of a purpose and its stamp, and one blank record. Returns its job. */
export async function startTypedList(db: Database, { name, purpose }: z.infer<typeof typedListSchema>, actor: string): Promise<number> {
  const sheet = sheetFor(purpose);
  const { listId, jobId } = await db.transaction().execute(async (tx) => {
    const list = await createList(tx, {
      name,
      source: 'typing',
      origin: { kind: 'typed' },
      headings: sheet.map((c) => c.heading),
      roles: sheet.map((c) => c.role),
      rows: [],
      note: 'A list to type into',
      actor,
    });
    const stamp = stampFor(purpose, firstStamp(list.columns), list.columns);
    const document: JobDocument = { stamps: [stamp], piece: firstPiece(stocks[0], stamp, list.columns), options: defaultRunOptions };
    return { listId: list.id, jobId: await createJob(tx, name, list.id, list.columns, actor, document) };
  });
  await addRecords(db, listId, [{}], actor);
  return jobId;
}
