import { readIntakeCard, takeIntakeCard } from './cards';
import type { Intake, RereadTake, SaidSame, TakeOptions } from '../../contract';
import { begunAs, type Fetched, sourceOf } from '../../core/job/sources';
import type { TextReading } from '../../core/records/reading';
import { type Database, enqueue, Refusal } from '../platform';
import { rowsAsBytes } from './kinds/kind';
import { sayTheSame } from './files/state';
import { askIntake } from './reread';

/**
 * A person's actions on an intake. Each changes its state and queues the following work in one
 * transaction.
 */

/** Queues the reading of a source that is not uploaded. Returns the number of the intake. */
export function fetchIntake(db: Database, wanted: Fetched, actor: string): Promise<number> {
  const { origin, rows, list } = begunAs(wanted);
  const bytes = rows ? rowsAsBytes(rows) : Buffer.alloc(0);
  return askIntake(db, { name: wanted.name, bytes, origin, list, actor });
}

export const viewIntake = (db: Database, id: number): Promise<Intake> =>
  db
    .selectFrom('intakes')
    .select([
      'id',
      'file_name',
      'state',
      'error',
      'preview',
      'job_id',
      'list_id',
      'origin',
      'told',
      'same',
    ])
    .where('id', '=', id)
    .executeTakeFirstOrThrow();

/** Discards what was read and not applied. */
export async function dropIntake(db: Database, id: number): Promise<void> {
  await db
    .deleteFrom('intakes')
    .where('id', '=', id)
    .where('state', 'in', ['waiting', 'read', 'failed'])
    .execute();
}

const taken = 'These records were already brought in.';

/** Has a text read again in another encoding or with another separator; the preview follows. */
export async function readIntakeAs(db: Database, id: number, reading: TextReading): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { state, origin, list_id } = await tx
      .selectFrom('intakes')
      .select(['state', 'origin', 'list_id'])
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirstOrThrow();
    if (!['read', 'failed'].includes(state) || list_id !== null) throw new Refusal(taken);
    if (!origin || !sourceOf(origin).sheets)
      throw new Refusal('This source has no encoding to choose.');
    await tx
      .updateTable('intakes')
      .set({ state: 'waiting', origin: JSON.stringify({ ...origin, reading }), error: null })
      .where('id', '=', id)
      .execute();
    await enqueue(tx, readIntakeCard, { intake: id });
  });
}

/** Declares headings or keys to be the same; the update is compared again with that. */
export async function sayIntakeSame(db: Database, id: number, same: SaidSame): Promise<void> {
  await db.transaction().execute(async (tx) => {
    if (!(await sayTheSame(tx, id, same)))
      throw new Refusal(
        'These changes were already applied or discarded. Update from the source again.',
      );
    await enqueue(tx, readIntakeCard, { intake: id });
  });
}

/** Applies what was read: as a new list and its job, or to the list it was compared with. */
export async function beginTaking(
  db: Database,
  id: number,
  take: TakeOptions | RereadTake,
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const changed = await tx
      .updateTable('intakes')
      .set({ state: 'taking', take: JSON.stringify(take), error: null })
      .where('id', '=', id)
      .where('state', 'in', ['read', 'failed'])
      .where((e) => e.or([e('preview', 'is not', null), e('told', 'is not', null)]))
      .returning('id')
      .executeTakeFirst();
    if (!changed) throw new Refusal(taken);
    await enqueue(tx, takeIntakeCard, { intake: id });
  });
}
