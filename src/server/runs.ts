import { sql } from 'kysely';
import { z } from 'zod';
import { stockById, stocks, sheetsFor } from '../core/piece/stock';
import { keyColumn, nameColumn } from '../core/records/columns';
import { firstPiece, type Piece } from '../core/piece/piece';
import { cutChunks, defaultRunOptions } from '../core/run/plan';
import type { Database } from './db';
import type { FrozenRun } from '../core/job/document';
import { enqueue } from './queue';
import { stampOf } from './stamps';

export const newRunSchema = z.object({
  name: z.string().trim().min(1, 'Give the run a name.').max(120),
  /** Those that are ready; or all that have a code, those that need a look too; or the ticked ones among them. */
  which: z.enum(['ready', 'with-code', 'ticked']),
  ticked: z.array(z.number().int()).max(100_000).default([]),
});
export type NewRun = z.infer<typeof newRunSchema>;

/** A run that cannot be started; the message is for the coordinator. */
export class RunError extends Error {
  override name = 'RunError';
}

/** Freezes a job and its chosen records as a run and puts its chunks in the queue, all or nothing. */
export async function startRun(db: Database, jobId: number, wanted: NewRun, actor: string, quick?: Piece): Promise<number> {
  return db.transaction().execute(async (tx) => {
    const job = await tx.selectFrom('jobs').selectAll().where('id', '=', jobId).executeTakeFirstOrThrow();
    if (job.judging > 0) throw new RunError('The records are still being checked. Start the run when that is done.');
    const list = await tx.selectFrom('lists').selectAll().where('id', '=', job.list_id).executeTakeFirstOrThrow();
    if (!quick && !job.document.piece.elements.some((e) => e.kind === 'stamp'))
      throw new RunError('There is no code on the piece. Place a stamp on it first.');
    const frozen: FrozenRun = {
      ...job.document,
      ...(quick ? { piece: quick, options: defaultRunOptions } : {}),
      stamps: list.stamps,
      columns: list.columns,
      jobVersion: job.version,
      listRevision: list.revision,
      date: new Date().toISOString(),
    };
    const { id } = await tx
      .insertInto('runs')
      .values({
        job_id: jobId,
        kind: quick ? 'quick' : 'job',
        name: wanted.name,
        state: 'waiting',
        frozen: JSON.stringify(frozen),
        pieces: 0,
        sheets: 0,
        left_out: '[]',
        created_by: actor,
      })
      .returning('id')
      .executeTakeFirstOrThrow();
    const { copies, start } = frozen.options;
    const chosen =
      wanted.which === 'ready'
        ? sql`r.overall = 'ready'`
        : wanted.which === 'with-code'
          ? sql`r.stamps_mark = 'ready'`
          : sql`r.stamps_mark = 'ready' and r.record_id = any(${wanted.ticked}::bigint[])`;
    const taken = await sql`
      insert into run_items (run_id, seq, record_id, values, content)
      select ${id}::int, row_number() over (order by position, copy) - 1, record_id, values, content
      from (select p.position, r.record_id, p.values, r.content, c.copy from job_rows r join records p on p.id = r.record_id
            cross join generate_series(1, ${copies}::int) c(copy)
            where r.job_id = ${jobId} and ${chosen}) chosen`.execute(tx);
    const pieces = Number(taken.numAffectedRows ?? 0);
    if (pieces === 0) throw new RunError('No record is chosen that has a code, so there is nothing to make.');
    const title = nameColumn(list.columns) ?? keyColumn(list.columns) ?? list.columns[0];
    const leftOut =
      wanted.which === 'ticked'
        ? []
        : await tx
            .selectFrom('job_rows')
            .innerJoin('records', 'records.id', 'job_rows.record_id')
            .select([sql<string>`coalesce(records.values->>${title.id}, '')`.as('title'), 'job_rows.notes'])
            .where('job_rows.job_id', '=', jobId)
            .where(sql<boolean>`job_rows.record_id not in (select record_id from run_items where run_id = ${id})`)
            .orderBy('records.position')
            .limit(1000)
            .execute();
    const stock = stockById(frozen.piece.stock);
    const chunks = cutChunks(stock, pieces, start);
    await tx
      .updateTable('runs')
      .set({
        pieces,
        sheets: sheetsFor(stock, pieces, start),
        left_out: JSON.stringify(leftOut.map((row) => ({ title: row.title, reason: row.notes.map((n) => n.text).join('; ') }))),
      })
      .where('id', '=', id)
      .execute();
    await tx
      .insertInto('run_chunks')
      .values(chunks.map((chunk) => ({ run_id: id, number: chunk.number })))
      .execute();
    for (const chunk of chunks) await enqueue(tx, 'run.chunk', { run: id, chunk: chunk.number }, { key: `run-${id}-${chunk.number}` });
    return id;
  });
}

/** A quick print: code and title of some records, straight from the list, without touching the job's own piece. */
export async function quickPrint(
  db: Database,
  jobId: number,
  { stamp, records }: z.infer<typeof quickSchema>,
  actor: string,
): Promise<number> {
  const list = await stampOf(db, jobId, stamp);
  const name = `Quick print, ${records.length.toLocaleString('en')} ${records.length === 1 ? 'record' : 'records'}`;
  return startRun(db, jobId, { name, which: 'ticked', ticked: records }, actor, firstPiece(stocks[0], list.stamp, list.columns));
}

export const quickSchema = z.object({
  stamp: z.string(),
  records: z.array(z.number().int()).min(1, 'Tick the records to print.').max(5000),
});

/** Stops a run; chunks that are still in the queue find it cancelled and do nothing. */
export async function cancelRun(db: Database, id: number): Promise<void> {
  await db
    .updateTable('runs')
    .set({ state: 'cancelled', finished_at: new Date() })
    .where('id', '=', id)
    .where('state', 'in', ['waiting', 'running'])
    .execute();
}
