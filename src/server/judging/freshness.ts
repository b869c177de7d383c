import { renewJobCard, renewListCard } from './cards';
import { sql } from 'kysely';
import { lookupsOf } from '../../core/records/worked';
import { type Database, enqueue } from '../platform';

/**
 * How long the process that made a change may work on what follows, before the queue takes over.
 */
const graceSeconds = 4;

/**
 * Counts a change on which verdicts depend, in the transaction of the change, and queues the
 * renewal in the same transaction. The process that made the change renews at once; if it dies
 * before, a worker does it seconds later. Lists that look something up in this one are renewed too.
 * Returns the count, for the caller that checks the change.
 * @param workOut all worked columns have to be calculated again before any check makes the list
 *   fresh
 */
export async function changed(tx: Database, listId: number, workOut = false): Promise<number> {
  const { changes } = await count(tx, listId, workOut);
  await enqueue(
    tx,
    renewListCard,
    { list: listId },
    { key: `renew-list-${listId}`, queue: `list-${listId}`, inSeconds: graceSeconds },
  );
  await changedElsewhere(tx, listId);
  return changes;
}

const count = (tx: Database, listId: number, workOut: boolean) =>
  tx
    .updateTable('lists')
    .set((e) => ({
      changes: e('changes', '+', 1),
      ...(workOut ? { working: sql<number>`greatest(working, 1)` } : {}),
    }))
    .where('id', '=', listId)
    .returning('changes')
    .executeTakeFirstOrThrow();

/**
 * Renews the lists that look something up in a changed one, or whose documents have rows of it.
 */
export async function changedElsewhere(tx: Database, listId: number): Promise<void> {
  const lists = await tx
    .selectFrom('lists')
    .select(['id', 'columns'])
    .where(sql<boolean>`columns::text like '%"lookup"%'`)
    .where('id', '<>', listId)
    .execute();
  for (const { id, columns } of lists) {
    if (!columns.some((c) => c.worked && lookupsOf(c.worked).some((step) => step.list === listId)))
      continue;
    await count(tx, id, true);
    await renewSoon(tx, id);
  }
  const using = await tx
    .selectFrom('jobs')
    .select('list_id')
    .distinct()
    .where(
      sql<boolean>`jsonb_path_exists(document, '$.piece.ground.blocks[*] ? (@.list == $list)',
        jsonb_build_object('list', ${listId}::int))`,
    )
    .where('list_id', '<>', listId)
    .execute();
  for (const { list_id: id } of using) {
    await count(tx, id, false);
    await renewSoon(tx, id);
  }
}

const renewSoon = (tx: Database, list: number) =>
  enqueue(tx, renewListCard, { list }, { key: `renew-list-${list}`, queue: `list-${list}` });

/** The same for a job's own document. */
export async function changedJob(tx: Database, jobId: number, listId: number): Promise<void> {
  await tx
    .updateTable('jobs')
    .set((e) => ({ changes: e('changes', '+', 1) }))
    .where('id', '=', jobId)
    .execute();
  await enqueue(
    tx,
    renewJobCard,
    { job: jobId },
    { key: `renew-job-${jobId}`, queue: `list-${listId}`, inSeconds: graceSeconds },
  );
}

/** Whether everything that was calculated about a job and its list matches their current state. */
export const isFresh = (
  list: { changes: number; judged: number },
  job: { changes: number; judged: number },
): boolean => list.judged >= list.changes && job.judged >= job.changes;

/** How often the end of a check is polled, in ms. */
const askEvery = 200;

/**
 * Waits until everything that was calculated about a job is current. Most checks are over before
 * anybody could press a button twice.
 *
 * @param patience in ms, at most
 */
export async function whenFresh(db: Database, job: number, patience: number): Promise<void> {
  const until = performance.now() + patience;
  for (;;) {
    const counts = await db
      .selectFrom('jobs as j')
      .innerJoin('lists as l', 'l.id', 'j.list_id')
      .select(['j.changes', 'j.judged', 'l.changes as of', 'l.judged as ofJudged'])
      .where('j.id', '=', job)
      .executeTakeFirst();
    if (!counts || isFresh({ changes: counts.of, judged: counts.ofJudged }, counts)) return;
    if (performance.now() >= until) return;
    await new Promise((resolve) => setTimeout(resolve, askEvery));
  }
}
