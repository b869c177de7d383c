import { counted } from '../../../core/base/words';
import { madeChip } from '../../../core/orders/order';
import { outputOf } from '../../../core/run/outputs';
import { readJob } from '../../../core/job/document';
import { isFresh, pdfsFor } from '../../judging';
import { checkRoom, RunError } from '../../platform';
import { proofOf, startRunIn } from '../../runs';
import { titleOf } from '../title';
import { NotYet, type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

type Make = StepOf<'make'>;

async function asked(step: Make, { db, record, list }: Situation) {
  const job = await db
    .selectFrom('jobs')
    .select(['name', 'list_id'])
    .where('id', '=', step.job)
    .executeTakeFirst();
  if (!job) throw new StepTrouble('The job that it runs was deleted.');
  if (step.which === 'record') {
    if (!record || !list) throw new StepTrouble('Its record no longer exists.');
    if (job.list_id !== list.id) throw new StepTrouble(`${job.name} is a job of another list.`);
  }
  return job;
}

export const make: StepDoer<Make> = {
  do: async (step, situation) => {
    const { db, waitsFor, record, list, actor } = situation;
    if (waitsFor?.run !== undefined) return madeBy(step, situation, waitsFor.run);
    const job = await asked(step, situation);
    await fresh(situation, step.job, job.name);
    await worksOnTaken(step, situation);
    await checkRoom(db);
    const title = record && list && titleOf(list.columns, record.values);
    const name = step.which === 'record' && title ? `${job.name}: ${title}` : job.name;
    try {
      const run = await startRunIn(
        db,
        step.job,
        {
          name: name.slice(0, 120),
          which: step.which === 'record' ? 'ticked' : step.which,
          ticked: step.which === 'record' ? [record!.id] : [],
          output: { kind: step.output },
        },
        actor,
        { onlyReady: true },
      );
      return { words: `started ${name}`, made: { run }, waits: 1 };
    } catch (error) {
      if (error instanceof RunError) throw new StepTrouble(error.message);
      throw error;
    }
  },
  would: async (step, situation) => {
    const { db, record } = situation;
    const job = await asked(step, situation);
    try {
      const proof = await proofOf(
        db,
        step.job,
        {
          name: job.name,
          which: step.which === 'record' ? 'ticked' : step.which,
          ticked: step.which === 'record' ? [record!.id] : [],
          output: { kind: step.output },
        },
        1,
        'editor',
        true,
      );
      if (proof.records === 0)
        throw new StepTrouble(
          proof.leftOut[0]
            ? `Nothing would be made: ${proof.leftOut[0].reason}.`
            : 'Nothing would be made: no record is ready.',
        );
      return {
        words: `would make ${piecesOf(step, proof.pieces)} of ${job.name}`,
        chips: {
          [madeChip(step.id, 'run')]: job.name,
          [madeChip(step.id, 'codes')]: String(proof.pieces),
        },
      };
    } catch (error) {
      if (error instanceof RunError) throw new StepTrouble(error.message);
      throw error;
    }
  },
};

/**
 * The document that an earlier step added is the one that is made now: not an earlier file of the
 * same key, nor one of another record. @throws StepTrouble
 */
async function worksOnTaken(step: Make, { db, before, record }: Situation): Promise<void> {
  const taken = before.findLast((made) => made.documentId !== undefined);
  if (taken?.documentId === undefined || step.which !== 'record' || !record) return;
  const job = await db
    .selectFrom('jobs')
    .select('document')
    .where('id', '=', step.job)
    .executeTakeFirstOrThrow();
  const { ground } = readJob(job.document).piece;
  if (ground?.kind !== 'pdfs') return;
  const own = (await pdfsFor(db, ground, [record])).get(record.id);
  if (own && own.of > 1)
    throw new StepTrouble(
      `There are ${own.of} PDFs for this record, ${taken.document} among them. Open the job and assign the right one to the record.`,
    );
  if (own?.document !== taken.documentId)
    throw new StepTrouble(
      `${taken.document} is not the PDF of this record${own ? `: that is ${own.name}` : ''}. Open the job and assign it.`,
    );
}

/** Waits until the records of the job are checked. */
async function fresh({ db }: Situation, job: number, name: string): Promise<void> {
  const row = await db
    .selectFrom('jobs')
    .select(['list_id', 'changes', 'judged'])
    .where('id', '=', job)
    .executeTakeFirstOrThrow();
  const list = await db
    .selectFrom('lists')
    .select(['changes', 'judged'])
    .where('id', '=', row.list_id)
    .executeTakeFirstOrThrow();
  if (!isFresh(list, row)) throw new NotYet(`waits until the records of ${name} are checked`, 1);
}

/** What came of the run that was begun. */
async function madeBy(step: Make, { db }: Situation, id: number) {
  const run = await db
    .selectFrom('runs')
    .select(['name', 'state', 'pieces', 'codes', 'codes_read', 'codes_failed', 'error'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (!run) throw new StepTrouble('What it made was deleted.');
  if (run.state === 'waiting' || run.state === 'running')
    throw new NotYet(`waits for ${run.name}`, 1);
  if (run.state === 'cancelled') throw new StepTrouble(`${run.name} was stopped.`);
  if (run.state === 'failed')
    throw new StepTrouble(`${run.name} could not be made${run.error ? `: ${run.error}` : ''}.`);
  if (run.codes_failed > 0)
    throw new StepTrouble(
      `${counted(run.codes_failed, 'code does', 'codes do')} not read back in ${run.name}, so nothing more is done with it.`,
    );
  return {
    words: `made ${piecesOf(step, run.pieces)}: ${run.name}${run.codes > 0 ? `, ${counted(run.codes_read, 'code')} read back` : ''}`,
    made: { run: id },
    chips: {
      [madeChip(step.id, 'run')]: run.name,
      [madeChip(step.id, 'codes')]: String(run.codes_read),
    },
  };
}

/** A number of things it makes, in words: sheets hold pieces, several on one. */
function piecesOf({ output }: Make, n: number): string {
  const { sheets, noun } = outputOf(output);
  return sheets ? counted(n, 'piece') : counted(n, ...noun);
}
