import type { Origin } from '../../core/job/sources';
import { counted } from '../../core/base/words';
import { takeSchema, type TakeOptions } from '../../contract';
import type { Book } from './files/book';
import { Limits } from './files/limits';
import { bytesOfIntake, failIntake, holdIntake } from './files/state';
import { previewBook, takenSheet } from './files/preview';
import { type Database, IntakeError, isAway, log, Refusal } from '../platform';
import { rejudgeList } from '../judging';
import { createJob, createList } from '../lists';
import { compareIntake, takeReread } from './comparison';
import { readerOf } from './kinds';

/** The source of an upload that does not name one. */
const sent = (name: string): Origin => ({ kind: 'file', name, headerRow: 0 });

/** The rows of an intake: a spreadsheet as it came, or rows that were read. */
export function bookOf(name: string, origin: Origin | null, bytes: Buffer): Book {
  const from = origin ?? sent(name);
  return readerOf(from).book(name, from, bytes);
}

/**
 * Reads a waiting intake and stores its contents, or why it cannot be read. An update is compared
 * with its list.
 */
export async function readIntake(db: Database, id: number): Promise<void> {
  const intake = await db
    .selectFrom('intakes')
    .select(['file_name', 'state', 'origin', 'list_id'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (intake?.state !== 'waiting') return;
  try {
    // what does not come with the intake is fetched, from the In-tray or a database
    const fetch = intake.origin && readerOf(intake.origin).fetch;
    const kept = await bytesOfIntake(db, id);
    const bytes = fetch && kept.length === 0 ? await fetch(db, intake.origin!) : kept;
    const book = bookOf(intake.file_name, intake.origin, bytes);
    const preview = previewBook(book);
    await db.transaction().execute(async (tx) => {
      if (!(await holdIntake(tx, id, 'waiting'))) return;
      if (bytes !== kept)
        await tx.updateTable('intakes').set({ bytes }).where('id', '=', id).execute();
      if (intake.list_id !== null) return;
      await tx
        .updateTable('intakes')
        .set({ state: 'read', preview: JSON.stringify(preview) })
        .where('id', '=', id)
        .execute();
    });
    if (intake.list_id !== null) await compareIntake(db, id, book);
  } catch (error) {
    await fail(db, id, error, `${intake.file_name} could not be read.`);
  }
}

async function fail(db: Database, id: number, error: unknown, otherwise: string): Promise<void> {
  // an unreachable database is not the file's fault: the queue tries again
  if (isAway(error)) throw error;
  const said = error instanceof IntakeError || error instanceof Refusal;
  if (!said) log.error({ err: error, intake: id }, 'intake failed');
  await failIntake(db, id, said ? error.message : otherwise);
}

/** Reports that an intake is not tried any more. */
export async function endIntake(db: Database, id: number, why: string): Promise<void> {
  const intake = await db
    .selectFrom('intakes')
    .select('file_name')
    .where('id', '=', id)
    .executeTakeFirst();
  await failIntake(
    db,
    id,
    `${intake?.file_name ?? 'The file'} was not read to its end: ${why}. Nothing was changed. Save only the sheet you need, or save it as CSV, and bring that in.`,
  );
}

/** Everything needed to read the source of an applied intake again. */
function originOf(origin: Origin, book: Book, { sheet, follow, ...choices }: TakeOptions): Origin {
  const { headerRow, lastOut, fillDown, hiddenOut, linksIn } = choices;
  const chosen = {
    sheet: book.sheets[sheet]?.name,
    headerRow,
    lastOut,
    fillDown,
    hiddenOut,
    linksIn,
  };
  return readerOf(origin).taken?.(origin, chosen, follow ?? false) ?? origin;
}

/**
 * Makes the list and its job from a read file by the coordinator's choices, or applies an update to
 * its list.
 */
export async function takeIntake(db: Database, id: number): Promise<void> {
  const intake = await db
    .selectFrom('intakes')
    .select(['file_name', 'state', 'origin', 'list_id', 'take', 'created_by'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (intake?.state !== 'taking' || !intake.take) return;
  try {
    const bytes = await bytesOfIntake(db, id);
    // applied by another in the meantime
    if (bytes.length === 0) return;
    const book = bookOf(intake.file_name, intake.origin, bytes);
    if (intake.list_id !== null) return await takeReread(db, id, book, intake.created_by);
    const take = takeSchema.parse(intake.take);
    const { sheet, roles, name } = take;
    const { names, rows, columns, doubts } = takenSheet(book.sheets[sheet]!, take);
    new Limits(intake.file_name).records(rows.length);
    if (rows.length === 0)
      throw new IntakeError(
        'There are no rows below the headings, so there are no records to bring in. Choose another row for the headings.',
      );
    const listId = await db.transaction().execute(async (tx) => {
      if (!(await holdIntake(tx, id, 'taking'))) return undefined;
      const list = await createList(tx, {
        name,
        source: intake.file_name,
        origin: originOf(intake.origin ?? sent(intake.file_name), book, take),
        headings: names,
        roles: columns.map((c) => roles[c] ?? 'text'),
        rows,
        doubts,
        note: `${counted(rows.length, 'record')} from ${intake.file_name}, ${book.kind}`,
        actor: intake.created_by,
      });
      const jobId = await createJob(tx, name, list.id, list.columns, intake.created_by);
      // the bytes are no longer needed
      await tx
        .updateTable('intakes')
        .set({ state: 'taken', job_id: jobId, bytes: Buffer.alloc(0) })
        .where('id', '=', id)
        .execute();
      return list.id;
    });
    // anybody who opens the job sooner sees that its records are still to be checked; if this
    // process ends, the queue takes over
    if (listId !== undefined) await rejudgeList(db, listId);
  } catch (error) {
    await fail(
      db,
      id,
      error,
      'The records could not be brought in. Nothing was changed. Try again.',
    );
  }
}
