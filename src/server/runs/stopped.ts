import { sql } from 'kysely';
import { chunksOf } from '../../core/run/plan';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { readRun } from '../../core/job/document';
import { sidesOf } from '../../core/piece/model';
import { sheetsFor, stockOf } from '../../core/piece/stock';
import { titleColumn } from '../../core/records/columns';
import { type Database, enqueue, Refusal } from '../platform';
import { assembleRunCard } from './cards';

const stoppedWords = 'the run was stopped before it';

/**
 * Makes the files of a stopped run from its finished parts: everything up to the first missing one.
 * The other records are counted as left out, with the reason.
 * @throws Refusal if it was not stopped, or nothing was made
 */
export async function finishStopped(db: Database, id: number): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const run = await tx
      .selectFrom('runs')
      .selectAll()
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const frozen = readRun(run.frozen);
    const output = outputOf(frozen.output?.kind ?? usualOutput);
    if (run.state !== 'cancelled' || output.delivers === 'mail')
      throw new Refusal(
        'Only a stopped run that sends no emails can be finished. Reload the page.',
        409,
      );
    const chunks = chunksOf(frozen, run.pieces);
    const made = await tx
      .selectFrom('run_chunks')
      .select('number')
      .where('run_id', '=', id)
      .where('done', '=', true)
      .execute();
    const done = new Set(made.map((chunk) => chunk.number));
    const first = chunks.findIndex((chunk) => !done.has(chunk.number));
    const end = chunks[first];
    if (first === 0 || !end)
      throw new Refusal(
        'Nothing of this run was finished, so there is nothing to keep. Run it again.',
        409,
      );
    const pieces = end.from;
    const name = titleColumn(frozen.columns)?.id ?? '';
    const { rows: without } = await sql<{ record: number; title: string }>`
      select record_id as record, coalesce(values->>${name}, '') as title from run_items
        where run_id = ${id} and seq >= ${pieces} order by seq`.execute(tx);
    await tx
      .deleteFrom('run_pages')
      .where('run_id', '=', id)
      .where('page', '>=', end.firstPage * sidesOf(frozen.piece).length)
      .where(sql<boolean>`${output.sheets === true}`)
      .execute();
    for (const table of ['run_parts', 'run_items', 'receipts'] as const)
      await tx.deleteFrom(table).where('run_id', '=', id).where('seq', '>=', pieces).execute();
    await tx
      .deleteFrom('run_chunks')
      .where('run_id', '=', id)
      .where('number', '>=', end.number)
      .execute();
    const codes = await tx
      .selectFrom('receipts')
      .select((e) => [
        e.fn.countAll<number>().as('all'),
        e.fn.countAll<number>().filterWhere('result', '=', 'read').as('read'),
      ])
      .where('run_id', '=', id)
      .executeTakeFirstOrThrow();
    await tx
      .updateTable('runs')
      .set({
        state: 'running',
        finished_at: null,
        pieces,
        pieces_made: pieces,
        sheets: output.sheets
          ? sheetsFor(stockOf(frozen.piece), pieces, frozen.options.start)
          : run.sheets,
        codes: codes.all,
        codes_read: codes.read,
        codes_failed: codes.all - codes.read,
        left_out: JSON.stringify([
          ...run.left_out,
          ...without.map((row) => ({ ...row, reason: stoppedWords })),
        ]),
      })
      .where('id', '=', id)
      .execute();
    await enqueue(tx, assembleRunCard, { run: id }, { key: `assemble-${id}` });
  });
}
