import { readRun } from '../../../core/job/document';
import { outputOf } from '../../../core/run/outputs';
import { sendToPrinter } from '../../delivery';
import { Refusal } from '../../platform';
import { lastRun, type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

async function printerOf({ db }: Situation, id: number) {
  const printer = await db
    .selectFrom('printers')
    .select(['id', 'name'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (!printer) throw new StepTrouble('Its printer was removed. Choose another.');
  return printer;
}

export const print: StepDoer<StepOf<'print'>> = {
  outside: true,
  do: async (step, situation) => {
    const { db } = situation;
    const printer = await printerOf(situation, step.printer);
    const run = lastRun(situation);
    const job = () =>
      db
        .selectFrom('print_jobs')
        .select('id')
        .where('printer_id', '=', printer.id)
        .where('run_id', '=', run)
        .executeTakeFirst();
    // sent by a try that died before it could store that
    let sent = await job();
    if (!sent) {
      const { frozen } = await db
        .selectFrom('runs')
        .select('frozen')
        .where('id', '=', run)
        .executeTakeFirstOrThrow();
      if (!outputOf(readRun(frozen).output?.kind ?? 'pdf').sheets)
        throw new StepTrouble('Only sheets can be printed. Choose the output PDF for print.');
      const { against } = await sendToPrinter(db, printer.id, { run }).catch((error: unknown) => {
        if (error instanceof Refusal) throw new StepTrouble(error.message);
        throw error;
      });
      if (against.length > 0)
        throw new StepTrouble(`It was not sent to ${printer.name}: ${against.join(' ')}`);
      sent = await job();
    }
    return { words: `sent to ${printer.name}`, made: { run, ...(sent ? { print: sent.id } : {}) } };
  },
  would: async (step, situation) => ({
    words: `would send it to ${(await printerOf(situation, step.printer)).name}`,
  }),
};
