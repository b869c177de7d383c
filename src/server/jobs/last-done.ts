import { sql } from 'kysely';
import type { Database } from '../platform';

/** The last action on a job: a change of its list, or of its own document. */
export type Done = { kind: 'list'; number: number } | { kind: 'document'; version: number };

/**
 * What undoing would take back, or doing again put in: whatever was done last, or undone last, to
 * the list or to the document.
 */
export async function lastDone(
  db: Database,
  jobId: number,
  listId: number,
  direction: 'undo' | 'redo',
): Promise<Done | undefined> {
  const { rows } = await (direction === 'undo'
    ? sql<{ kind: 'list' | 'document'; number: number }>`
        (select 'list' as kind, number, created_at as at from revisions
          where list_id = ${listId} and not undone and kind not in ('intake', 'undo', 'redo')
            order by number desc limit 1)
        union all
        (select 'document', version, created_at from job_versions
          where job_id = ${jobId} and version > 1 and kind = 'change' and undone_at is null
            order by version desc limit 1)
        order by at desc limit 1`.execute(db)
    : sql<{ kind: 'list' | 'document'; number: number }>`
        (select 'list' as kind, number, coalesce(undone_at, created_at) as at from revisions
          where list_id = ${listId} and undone and not dropped)
        union all
        (select 'document', version, undone_at from job_versions
          where job_id = ${jobId} and undone_at is not null and not dropped)
        order by at desc limit 1`.execute(db));
  const [last] = rows;
  if (!last) return undefined;
  return last.kind === 'list'
    ? { kind: 'list', number: last.number }
    : { kind: 'document', version: last.number };
}
