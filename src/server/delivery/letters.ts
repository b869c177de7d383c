import { counted } from '../../core/base/words';
import type { Database } from '../platform';

/** Puts a notice into the Out-tray: a run is done, with what it came to. */
export async function writeLetter(db: Database, runId: number): Promise<void> {
  const run = await db
    .selectFrom('runs')
    .selectAll()
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  const lines = [
    `${counted(run.pieces, 'piece', 'pieces')}${run.sheets ? ` on ${counted(run.sheets, 'sheet', 'sheets')}` : ''}.`,
    run.codes_failed > 0
      ? `${counted(run.codes_failed, 'code does', 'codes do')} not read; ${run.codes_read.toLocaleString('en')} read back.`
      : run.codes > 0
        ? `All ${counted(run.codes, 'code', 'codes')} read back.`
        : '',
    run.left_out.length > 0
      ? `${counted(run.left_out.length, 'record was', 'records were')} left out.`
      : '',
  ];
  await db
    .insertInto('letters')
    .values({
      kind: 'run',
      subject:
        run.codes_failed > 0
          ? `${run.name}: done, and some codes do not read`
          : `${run.name} is done`,
      body: lines.filter(Boolean).join(' '),
      run_id: runId,
      job_id: run.job_id,
    })
    .execute();
}

export async function listLetters(db: Database) {
  const letters = await db
    .selectFrom('letters')
    .selectAll()
    .orderBy('id', 'desc')
    .limit(60)
    .execute();
  const files = await db
    .selectFrom('files')
    .select(['id', 'name', 'size', 'run_id'])
    .where('run_id', 'in', [...letters.flatMap((l) => l.run_id ?? []), -1])
    .orderBy('id')
    .execute();
  return letters.map((l) => ({
    id: l.id,
    subject: l.subject,
    body: l.body,
    job: l.job_id,
    at: l.written_at.toISOString(),
    files: files
      .filter((f) => f.run_id === l.run_id)
      .map(({ id, name, size }) => ({ id, name, size })),
  }));
}
