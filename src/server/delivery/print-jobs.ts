import { onTheWay } from '../../core/run/printer';
import { clock, type Database, fileHead, readFilePieces, Refusal } from '../platform';
import type { PrintDocument } from './ipp';
import { testPage } from './test-page';

/** A print job with the data of its printer. */
export const jobOf = (db: Database, job: number) =>
  db
    .selectFrom('print_jobs')
    .innerJoin('printers', 'printers.id', 'print_jobs.printer_id')
    .selectAll('print_jobs')
    .select(['printers.address', 'printers.faults', 'printers.id as printer'])
    .where('print_jobs.id', '=', job)
    .executeTakeFirst();
export type PrintJob = NonNullable<Awaited<ReturnType<typeof jobOf>>>;

/** A print job is over. */
export async function ended(
  db: Database,
  id: number,
  state: 'printed' | 'stopped' | 'failed' | 'unsure',
  reason: string,
  printed?: number,
): Promise<undefined> {
  await db
    .updateTable('print_jobs')
    .set({
      state,
      reason,
      ended_at: clock.date(),
      ...(printed === undefined ? {} : { printed }),
    })
    .where('id', '=', id)
    .where('state', 'in', onTheWay)
    .execute();
}

/** The document of a print job. @throws Refusal if it was deleted */
export async function documentOf(db: Database, job: PrintJob): Promise<PrintDocument> {
  if (job.test_page) {
    const bytes = await testPage(db, job.printer);
    return { size: bytes.length, parts: oneOf(bytes) };
  }
  const file = await pdfOf(db, job.run_id!);
  return { size: file.size, parts: readFilePieces(db, file.id) };
}

async function* oneOf(bytes: Uint8Array) {
  yield bytes;
}

/** The PDF of a run. @throws Refusal if it was deleted */
export async function pdfOf(db: Database, run: number) {
  const found = await db
    .selectFrom('files')
    .select('id')
    .where('run_id', '=', run)
    .where('mime', '=', 'application/pdf')
    .orderBy('id')
    .executeTakeFirst();
  if (!found) throw new Refusal('The PDF of this run is no longer kept. Run it again.');
  return fileHead(db, found.id);
}
