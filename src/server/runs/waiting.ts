import { sql } from 'kysely';
import { counted } from '../../core/base/words';
import type { Database } from '../platform';

/** What a waiting file is behind, in words; undefined when it is next. */
export async function waitsBehind(db: Database, intake: number): Promise<string | undefined> {
  const { rows } = await sql<{
    files: number;
    runs: number;
    left: number;
    pace: number | null;
    locked: boolean;
  }>`
    with own as (select id, run_at, locked_at from graphile_worker.jobs
      where task_identifier like 'intake.%' and key is null
                   and id in (select j.id from graphile_worker._private_jobs j
                     where j.payload->>'intake' = ${String(intake)}) order by id desc limit 1)
    select (select locked_at is not null from own) as locked,
      (select count(*)::int from graphile_worker.jobs j, own
        where j.task_identifier like 'intake.%' and j.id < own.id) as files,
      (select count(*)::int from runs where state = 'running') as runs,
      (select coalesce(sum(pieces - pieces_made), 0)::int from runs
        where state = 'running') as left,
      (select (sum(pieces_made) / greatest(1, sum(extract(epoch from now() - started_at))))::float
        from runs where state = 'running') as pace`.execute(db);
  const [found] = rows;
  if (!found || found.locked) return undefined;
  if (found.files > 0) return `behind ${counted(found.files, 'other file')}`;
  if (found.runs === 0) return undefined;
  const seconds = found.pace ? Math.ceil(found.left / found.pace) : undefined;
  return `behind ${found.runs === 1 ? 'a run' : counted(found.runs, 'run')}${seconds ? `, about ${seconds < 90 ? `${seconds} s` : `${Math.ceil(seconds / 60)} min`}` : ''}`;
}
