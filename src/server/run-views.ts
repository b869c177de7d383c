import type { Database } from './db';
import type { RunView } from '../core/job/views';

export async function listRuns(db: Database, jobId: number): Promise<RunView[]> {
  const ids = await db.selectFrom('runs').select('id').where('job_id', '=', jobId).orderBy('id', 'desc').limit(30).execute();
  return Promise.all(ids.map(({ id }) => viewRun(db, id)));
}

export async function viewRun(db: Database, id: number): Promise<RunView> {
  const run = await db.selectFrom('runs').selectAll().where('id', '=', id).executeTakeFirstOrThrow();
  const files = await db.selectFrom('files').select(['id', 'name', 'size']).where('run_id', '=', id).orderBy('id').execute();
  const failures =
    run.codes_failed === 0
      ? []
      : await db
          .selectFrom('receipts')
          .select(['title', 'key', 'page', 'place', 'result', 'read_text as readAs'])
          .where('run_id', '=', id)
          .where('result', '<>', 'read')
          .orderBy('seq')
          .limit(50)
          .execute();
  return {
    id,
    name: run.name,
    state: run.state,
    pieces: run.pieces,
    made: run.pieces_made,
    sheets: run.sheets,
    codes: run.codes,
    read: run.codes_read,
    failed: run.codes_failed,
    leftOut: run.left_out,
    error: run.error,
    created: run.created_at.toISOString(),
    started: run.started_at?.toISOString() ?? null,
    finished: run.finished_at?.toISOString() ?? null,
    files,
    failures,
  };
}
