import { IntakeError, readBook } from '../intake/book';
import { headingsAndRows, previewBook } from '../intake/preview';
import type { Database } from '../db';
import { rejudge } from '../judge';
import { createJob, createList } from '../lists';
import { log } from '../log';

/** Reads a waiting file and keeps what it holds, or why it cannot be taken. */
export async function readIntake(db: Database, id: number): Promise<void> {
  const intake = await db.selectFrom('intakes').select(['file_name', 'bytes', 'state']).where('id', '=', id).executeTakeFirst();
  if (intake?.state !== 'waiting') return;
  try {
    const preview = previewBook(readBook(intake.file_name, intake.bytes));
    await db
      .updateTable('intakes')
      .set({ state: 'read', preview: JSON.stringify(preview) })
      .where('id', '=', id)
      .execute();
  } catch (error) {
    await fail(db, id, error, `${intake.file_name} could not be read.`);
  }
}

async function fail(db: Database, id: number, error: unknown, otherwise: string): Promise<void> {
  if (!(error instanceof IntakeError)) log.error({ err: error, intake: id }, 'intake failed');
  await db
    .updateTable('intakes')
    .set({ state: 'failed', error: error instanceof IntakeError ? error.message : otherwise })
    .where('id', '=', id)
    .execute();
}

/** Makes the list and its job from a read file as the coordinator said. */
export async function takeIntake(db: Database, id: number): Promise<void> {
  const intake = await db.selectFrom('intakes').selectAll().where('id', '=', id).executeTakeFirst();
  if (intake?.state !== 'taking' || !intake.take) return;
  try {
    const book = readBook(intake.file_name, intake.bytes);
    const { sheet, headerRow, roles, name } = intake.take;
    const { names, rows } = headingsAndRows(book.sheets[sheet], headerRow);
    if (rows.length === 0) throw new IntakeError('Below the headings there is no row, so there are no records to bring in.');
    const job = await db.transaction().execute(async (tx) => {
      const note = `${rows.length} records from ${intake.file_name}, ${book.kind}`;
      const list = await createList(tx, { name, source: intake.file_name, headings: names, roles, rows, note, actor: intake.created_by });
      const jobId = await createJob(tx, name, list.id, list.columns, intake.created_by);
      // the bytes have done their work
      await tx
        .updateTable('intakes')
        .set({ state: 'taken', job_id: jobId, bytes: Buffer.alloc(0) })
        .where('id', '=', id)
        .execute();
      return jobId;
    });
    await rejudge(db, job);
  } catch (error) {
    await fail(db, id, error, 'The records could not be brought in. Nothing was changed; try it again.');
  }
}
