import { PDFDocument } from '@cantoo/pdf-lib';
import { sql } from 'kysely';
import { RunError } from '../platform';
import { itemsOf } from './items';
import type { RunToAssemble } from './maker';

/** Most bytes of all that is joined, since the whole is in memory while it is. */
const mostBytes = 200 * 2 ** 20;

/** The PDFs of all records of a run as one, in their order. */
export async function* joinedPdf({
  db,
  runId,
  frozen,
  title,
}: RunToAssemble): AsyncGenerator<Uint8Array> {
  const { bytes } = await db
    .selectFrom('run_parts')
    .select(sql<number>`coalesce(sum(octet_length(bytes)), 0)::float8`.as('bytes'))
    .where('run_id', '=', runId)
    .executeTakeFirstOrThrow();
  if (bytes > mostBytes)
    throw new RunError(
      `the documents are ${Math.ceil(bytes / 2 ** 20)} MB together, and one PDF holds up to ${mostBytes / 2 ** 20} MB. Make one file each, or run the records in parts`,
    );
  const whole = await PDFDocument.create();
  const date = new Date(frozen.date);
  whole.setTitle(title);
  whole.setCreationDate(date);
  whole.setModificationDate(date);
  for await (const { parts } of itemsOf(db, runId))
    for (const { bytes } of parts) {
      const one = await PDFDocument.load(bytes);
      for (const page of await whole.copyPages(one, one.getPageIndices())) whole.addPage(page);
    }
  yield await whole.save();
}
