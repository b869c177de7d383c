import { sql } from 'kysely';
import { includes, type Right } from '../../core/access/rights';
import { readVersion } from '../../core/job/document';
import { type Database, Refusal } from '../platform';
import { afterChange, changeJobIn, lockJob, type MayList, type ToJudge } from './jobs';
import { lastDone } from './last-done';
import { afterTurn, turnRevisionIn } from '../lists';

/**
 * Undoes the last change, or redoes it, in the order in which things were done. Returns what it
 * was, in words; undefined if there is nothing.
 * @param seen the records on the screen of the person
 * @throws Refusal if it was a change of the list, which they may not edit
 */
export async function stepJob(
  db: Database,
  jobId: number,
  direction: 'undo' | 'redo',
  actor: string,
  { mayList = 'editor', seen = [] }: { mayList?: Right; seen?: readonly number[] } = {},
): Promise<string | undefined> {
  const step = await db.transaction().execute(async (tx) => {
    // of two steps at once the second begins from what the first has left
    const { job } = await lockJob(tx, jobId);
    const done = await lastDone(tx, jobId, job.list_id, direction);
    if (!done) return undefined;
    if (done.kind === 'list' && !includes(mayList, 'editor'))
      throw new Refusal(
        'The last change was made to the list, which you cannot edit. Ask someone who can edit the list to undo it.',
        403,
      );
    if (done.kind === 'list') {
      const turned = await turnRevisionIn(tx, job.list_id, done.number, direction, actor);
      return { list: job.list_id, turned };
    }
    return {
      judge: await turnDocument(tx, job, done.version, direction, actor, {
        mayList: includes(mayList, 'editor'),
      }),
    };
  });
  if (!step) return undefined;
  if (step.turned) return afterTurn(db, step.list, step.turned);
  await afterChange(db, jobId, step.judge, seen);
  return direction === 'undo' ? 'A change of the job itself' : 'A change of the job itself, redone';
}

/** Restores the document as it was before a change, or as that change left it. */
async function turnDocument(
  tx: Database,
  job: { id: number; version: number },
  version: number,
  direction: 'undo' | 'redo',
  actor: string,
  may: MayList,
): Promise<ToJudge> {
  const { document } = await tx
    .selectFrom('job_versions')
    .select('document')
    .where('job_id', '=', job.id)
    .where('version', direction === 'undo' ? '<' : '=', version)
    .orderBy('version', 'desc')
    .limit(1)
    .executeTakeFirstOrThrow();
  const change = { version: job.version, document: readVersion(document) };
  const judge = await changeJobIn(tx, job.id, change, actor, direction, may);
  await tx
    .updateTable('job_versions')
    .set({ undone_at: direction === 'undo' ? sql<Date>`clock_timestamp()` : null })
    .where('job_id', '=', job.id)
    .where('version', '=', version)
    .execute();
  return judge;
}
