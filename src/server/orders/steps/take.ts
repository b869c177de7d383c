import { readJob } from '../../../core/job/document';
import { givenChip } from '../../../core/orders/order';
import type { PdfsGround } from '../../../core/piece/ground';
import { documentsCame, keepPdf } from '../../documents';
import { documentsFor } from '../../judging';
import { IntakeError, Refusal } from '../../platform';
import { trayPdf } from '../../sources';
import { type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

async function asked(step: StepOf<'take'>, { db, values }: Situation) {
  const job = await db
    .selectFrom('jobs')
    .select(['name', 'document'])
    .where('id', '=', step.job)
    .executeTakeFirst();
  if (!job) throw new StepTrouble('The job that it adds the file to was deleted.');
  const { ground } = readJob(job.document).piece;
  if (ground?.kind !== 'pdfs')
    throw new StepTrouble(
      `${job.name} does not put codes on PDFs, so the file cannot be added there.`,
    );
  const path = values[givenChip('path')] ?? '';
  if (!/\.pdf$/i.test(path)) throw new StepTrouble('Only a PDF can be added, and this is not one.');
  return { job, ground, set: ground.set, path };
}

/** In the user's words, what kept a file from being read. */
const inWords = (error: unknown): never => {
  if (error instanceof IntakeError || error instanceof Refusal)
    throw new StepTrouble(error.message);
  throw error;
};

/**
 * The same file under another name is not a second document of its record: the earlier one leaves
 * the set, and stays for the runs that were made of it. One with other bytes stays, and needs a
 * look by a person.
 */
async function dropSame({ db, record }: Situation, ground: PdfsGround, id: number): Promise<void> {
  if (!record) return;
  const own = (await documentsFor(db, ground, [record])).get(record.id);
  if (!own || own.size < 2 || !own.has(id)) return;
  await db
    .updateTable('documents')
    .set({ set_id: null })
    .where('id', 'in', [...own])
    .where('id', '<>', id)
    .where('hash', '=', (e) => e.selectFrom('documents').select('hash').where('id', '=', id))
    .execute();
}

export const take: StepDoer<StepOf<'take'>> = {
  outside: true,
  do: async (step, situation) => {
    const { job, ground, set, path } = await asked(step, situation);
    const bytes = await trayPdf(path).catch(inWords);
    const name = path.split('/').at(-1)!;
    const kept = await keepPdf(situation.db, set, name, bytes, situation.actor).catch(inWords);
    if (kept.locked !== undefined)
      throw new StepTrouble(`${kept.locked} Bring it into ${job.name} by hand, with its password.`);
    if (kept.id !== undefined) await dropSame(situation, ground, kept.id);
    await documentsCame(situation.db, step.job);
    return {
      words: `added ${name} to the PDFs of ${job.name}`,
      made: { document: name, ...(kept.id === undefined ? {} : { documentId: kept.id }) },
    };
  },
  would: async (step, situation) => {
    const { job, path } = await asked(step, situation);
    await trayPdf(path).catch(inWords);
    return { words: `would add ${path.split('/').at(-1)} to the PDFs of ${job.name}` };
  },
};
