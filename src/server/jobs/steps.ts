import { sql } from 'kysely';
import { includes, type Right } from '../../core/access/rights';
import { type Database, Refusal } from '../platform';
import { changeJob } from './jobs';
import { lastDone } from './last-done';
import { turnRevision } from '../lists';

/**
 * Takes the last change back, or puts it in again, in the order of what was done. Returns what it was in words; undefined when there is nothing.
 * @throws Refusal where it was done to the list, and that is not theirs to change
 */
export async function stepJob(
  db: Database,
  jobId: number,
  direction: 'undo' | 'redo',
  actor: string,
  mayList: Right = 'changes',
): Promise<string | undefined> {
  const job = await db
    .selectFrom('jobs')
    .select(['list_id', 'version'])
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  const done = await lastDone(db, jobId, job.list_id, direction);
  if (!done) return undefined;
  if (done.kind === 'list' && !includes(mayList, 'changes'))
    throw new Refusal(
      'What was done last was done to the list, which is not yours to change.',
      403,
    );
  if (done.kind === 'list') return turnRevision(db, job.list_id, done.number, direction, actor);
  // the document as it stood before that change, or as that change left it
  const { document } = await db
    .selectFrom('job_versions')
    .select('document')
    .where('job_id', '=', jobId)
    .where('version', direction === 'undo' ? '<' : '=', done.version)
    .orderBy('version', 'desc')
    .limit(1)
    .executeTakeFirstOrThrow();
  await changeJob(db, jobId, { version: job.version, document }, actor, direction);
  await db
    .updateTable('job_versions')
    .set({ undone_at: direction === 'undo' ? sql<Date>`clock_timestamp()` : null })
    .where('job_id', '=', jobId)
    .where('version', '=', done.version)
    .execute();
  return direction === 'undo'
    ? 'A change of the job’s own'
    : 'A change of the job’s own, done again';
}
