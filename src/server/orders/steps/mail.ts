import { sql } from 'kysely';
import { addressTrouble } from '../../../core/mail/address';
import { mailHtml } from '../../../core/mail/mail';
import { saidOf } from '../../../core/records/parts';
import { queueMails, viewMailServer } from '../../delivery';
import { composeMail } from '../../outputs';
import { runFile } from './run-file';
import { lastRun, NotYet, type Situation, type StepDoer, type StepOf, StepTrouble } from './step';

/** Most that a mail brings along, in bytes. */
const mostAttached = 20 * 2 ** 20;
/** Numbers of emails of a run that belong to no piece: below those of its notices. */
const seqOf = (firing: number, seq: number): number => -1000 - firing * 20 - seq;

async function asked(step: StepOf<'mail'>, { db, values }: Situation) {
  const server = await viewMailServer(db);
  if (!server) throw new StepTrouble('Choose a mail server in Settings first.');
  const to = saidOf(step.to, values, {}).text.trim();
  const trouble = addressTrouble(to);
  if (trouble)
    throw new StepTrouble(to === '' ? 'The email address is blank.' : `${to}: ${trouble}.`);
  const subject = saidOf(step.subject, values, {}).text.replace(/\s+/g, ' ').trim();
  return { server, to, subject, text: saidOf(step.text, values, {}).text };
}

export const mail: StepDoer<StepOf<'mail'>> = {
  do: async (step, situation) => {
    const { db, firing, seq, order, waitsFor } = situation;
    const run = lastRun(situation);
    const own = seqOf(firing, seq);
    if (waitsFor) {
      const line = await db
        .selectFrom('mails')
        .select(['state', 'reply', 'address'])
        .where('run_id', '=', run)
        .where('kind', '=', 'notice')
        .where('seq', '=', own)
        .executeTakeFirst();
      if (!line) throw new StepTrouble('The email was deleted from the Out-tray.');
      if (line.state === 'waiting' || line.state === 'handing')
        throw new NotYet(`waits for the mail server${line.reply ? `: ${line.reply}` : ''}`, 1);
      if (line.state !== 'sent')
        throw new StepTrouble(`The email to ${line.address} was not sent: ${line.reply}`);
      return { words: `emailed it to ${line.address}`, made: { run } };
    }
    const { server, to, subject, text } = await asked(step, situation);
    const file = await runFile(situation, run, mostAttached);
    const { job_id: job, created_at } = await db
      .selectFrom('runs')
      .select(['job_id', 'created_at'])
      .where('id', '=', run)
      .executeTakeFirstOrThrow();
    const paragraphs = text.split(/\n{2,}/).filter((p) => p.trim() !== '');
    const message = await composeMail({
      from: { name: server.senderName, address: server.sender },
      to: { name: '', address: to },
      subject: subject || order.name,
      text: `${text}\n`,
      html: mailHtml(paragraphs, [], 'none'),
      pictures: [],
      files: [file],
      date: created_at,
    });
    await queueMails(db, run, [
      {
        kind: 'notice',
        job,
        run,
        seq: own,
        record: situation.record?.id ?? null,
        title: order.name,
        address: to,
        subject: subject || order.name,
        message,
      },
    ]);
    // sent again after it failed
    await db
      .updateTable('mails')
      .set((e) => ({
        again: sql<boolean>`${e.ref('state')} = 'unsure'`,
        state: 'waiting',
        reply: '',
        tries: 0,
        due_at: sql<Date>`now()`,
        ended_at: null,
      }))
      .where('run_id', '=', run)
      .where('kind', '=', 'notice')
      .where('seq', '=', own)
      .where('state', 'in', ['refused', 'stopped', 'unsure'])
      .execute();
    return { words: `emails ${file.name} to ${to}`, made: { run }, waits: 1 };
  },
  would: async (step, situation) => {
    const { to } = await asked(step, situation);
    return { words: `would email it to ${to}` };
  },
};
