import { randomUUID } from 'node:crypto';
import { sql } from 'kysely';
import type { MailCounts, MailLine } from '../../contract';
import { mailStates, mailStateWords, type MailState } from '../../core/mail/states';
import { csvLines, clock, type Database, ending, enqueue, log, Refusal } from '../platform';
import { sendMailsCard } from './cards';
import { mailServerOf, type MailServer } from './mail-server';
import { type Handed, type MailLine as Line, MailTrouble, openMailLine } from './smtp';

export interface NewMail {
  kind: 'person' | 'trial' | 'notice';
  job: number;
  run: number;
  seq: number | null;
  record: number | null;
  title: string;
  address: string;
  subject: string;
  /** The whole text without its date and its id, which it gets when it is sent. */
  message: Uint8Array;
  /** Why it is not sent, in words. */
  held?: string;
}

/** Queues emails, in the caller's transaction. Each record of a run is queued once. */
export async function queueMails(
  tx: Database,
  run: number,
  mails: readonly NewMail[],
): Promise<void> {
  if (mails.length > 0)
    await tx
      .insertInto('mails')
      .values(
        mails.map((mail) => ({
          kind: mail.kind,
          job_id: mail.job,
          run_id: mail.run,
          seq: mail.seq,
          record_id: mail.record,
          title: mail.title,
          address: mail.address,
          subject: mail.subject,
          message: Buffer.from(mail.message),
          ...(mail.held === undefined
            ? { state: 'waiting' as const }
            : { state: 'held' as const, reply: mail.held }),
        })),
      )
      .onConflict((c) => c.columns(['run_id', 'kind', 'seq']).doNothing())
      .execute();
  await askFor(tx, run);
}

const askFor = (db: Database, run: number, inSeconds = 0): Promise<void> =>
  enqueue(db, sendMailsCard, { run }, { key: `mail-${run}`, inSeconds });

/** Records of a job whose person had an email from it, or may have had one. */
export const hadMail = (
  db: Database,
  job: number,
): Promise<{ record: number; at: Date | null }[]> =>
  db
    .selectFrom('mails')
    .select((e) => ['record_id as record', e.fn.max('ended_at').as('at')])
    .where('job_id', '=', job)
    .where('kind', '=', 'person')
    .where('state', 'in', ['handing', 'sent', 'unsure'])
    .where('record_id', 'is not', null)
    .groupBy('record_id')
    .$narrowType<{ record: number }>()
    .execute();

/** The longest time that one task sends, in ms, and the time between tries, in seconds. */
const slice = 15_000;
const pauses = [60, 300, 900, 3600];
/** An email that failed because of the server is tried again after so many seconds. */
const pauseWithoutServer = 30;

/**
 * Sends the emails of a run that are due. An email is marked before it is sent, and its result is
 * stored afterwards. An email that was marked by a dead process is not tried again, since it may
 * have been sent.
 * @param open connects to the mail server
 */
export async function sendMails(
  db: Database,
  run: number,
  open: (server: MailServer) => Promise<Line> = openMailLine,
): Promise<void> {
  await db.connection().execute(async (held) => {
    // one worker per run at a time, by a lock that ends with this connection
    const { rows } = await sql<{
      mine: boolean;
    }>`select pg_try_advisory_lock(${lockClass}, ${run}) as mine`.execute(held);
    if (!rows[0]?.mine) return askFor(held, run, 5);
    try {
      await handOver(held, run, open);
    } finally {
      await sql`select pg_advisory_unlock(${lockClass}, ${run})`.execute(held);
    }
  });
}
const lockClass = 7_301;

async function handOver(
  db: Database,
  run: number,
  open: (server: MailServer) => Promise<Line>,
): Promise<void> {
  // no other process sends for this run, so the one that marked it is gone
  await db
    .updateTable('mails')
    .set({ state: 'unsure', reply: brokenOff, ended_at: clock.date() })
    .where('run_id', '=', run)
    .where('state', '=', 'handing')
    .execute();
  const server = await mailServerOf(db);
  const began = performance.now();
  let line: Line | undefined;
  try {
    for (;;) {
      const next = await nextDue(db, run);
      if (next === undefined) return;
      if (ending.now) return await askFor(db, run, 1);
      if (next > 0 || performance.now() - began > slice) return await askFor(db, run, next);
      if (!server) throw new MailTrouble('No mail server is set in Settings.', true);
      line ??= await open(server);
      const wait = await slot(db, server.pace);
      if (wait > 0) return await askFor(db, run, wait);
      const mail = await take(db, run);
      if (!mail) continue;
      const came = await handed(line, server, mail);
      await tell(db, run, mail, came);
      if (came.trouble) throw came.trouble;
      // after an error the connection may be in any state
      if (came.state !== 'sent') {
        line.close();
        line = undefined;
      }
    }
  } catch (error) {
    if (!(error instanceof MailTrouble)) throw error;
    log.warn({ run, err: error }, 'mails wait');
    await db
      .updateTable('runs')
      .set({ mail_trouble: error.message })
      .where('id', '=', run)
      .execute();
    if (error.lasting) await stopMails(db, run);
    else await askFor(db, run, pauseWithoutServer);
    return;
  } finally {
    line?.close();
  }
}

const brokenOff =
  'Hand Stamp stopped while it was sending this email. It is not known whether it arrived.';

/** In how many seconds an email of the run is due, 0 for now; undefined if none waits. */
async function nextDue(db: Database, run: number): Promise<number | undefined> {
  const { rows } = await sql<{ seconds: number | null }>`
    select ceil(extract(epoch from min(due_at) - now()))::int as seconds from mails
      where run_id = ${run} and state = 'waiting'`.execute(db);
  const seconds = rows[0]?.seconds;
  return seconds === null || seconds === undefined ? undefined : Math.max(0, seconds);
}

/** How far sending may be behind its pace and still catch up, in seconds. */
const burst = 5;

/**
 * Takes the next place in the pace of all emails: 0 if it is due, else in how many seconds it will
 * be.
 */
async function slot(db: Database, pace: number): Promise<number> {
  const { numUpdatedRows } = await db
    .updateTable('mail_pace')
    .set({
      next_at: sql`greatest(next_at,
        now() - ${burst} * interval '1 second') + ${60 / pace} * interval '1 second'`,
    })
    .where('next_at', '<=', sql<Date>`now()`)
    .executeTakeFirst();
  if (numUpdatedRows > 0n) return 0;
  const { rows } = await sql<{
    seconds: number;
  }>`select greatest(1, ceil(extract(epoch from next_at - now())))::int as seconds
    from mail_pace`.execute(db);
  return Math.min(60, rows[0]?.seconds ?? 1);
}

interface Taken {
  id: number;
  address: string;
  message: Buffer;
  tries: number;
  hand: string;
}

/**
 * Marks the next email as being sent. If its person has had an email from this job in the meantime,
 * it is stopped.
 */
async function take(db: Database, run: number): Promise<Taken | undefined> {
  return db.transaction().execute(async (tx) => {
    const { rows } = await sql<{
      id: number;
      job_id: number;
      kind: string;
      record_id: number | null;
      address: string;
      message: Buffer | null;
      tries: number;
      again: boolean;
    }>`
      select m.id, m.job_id, m.kind, m.record_id, m.address, m.message, m.tries,
        m.again or coalesce((r.frozen->'output'->>'again')::boolean, false) as again
      from mails m join runs r on r.id = m.run_id
      where m.run_id = ${run} and m.state = 'waiting' and m.due_at <= now()
        order by m.due_at, m.seq, m.id limit 1 for update of m`.execute(tx);
    const [mail] = rows;
    if (!mail) return undefined;
    if (!mail.message) {
      await end(tx, mail.id, 'stopped', 'Its text is no longer kept.');
      return undefined;
    }
    if (mail.kind === 'person' && !mail.again) {
      // two runs of one job check one after the other
      await sql`select pg_advisory_xact_lock(${jobClass}, ${mail.job_id})`.execute(tx);
      const had = await tx
        .selectFrom('mails')
        .select('id')
        .where('job_id', '=', mail.job_id)
        .where('record_id', '=', mail.record_id)
        .where('kind', '=', 'person')
        .where('state', 'in', ['handing', 'sent', 'unsure'])
        .executeTakeFirst();
      if (had) {
        await end(tx, mail.id, 'stopped', 'This person has already had an email from this job.');
        return undefined;
      }
    }
    const hand = randomUUID();
    await tx
      .updateTable('mails')
      .set({ state: 'handing', tries: mail.tries + 1, handed_by: hand })
      .where('id', '=', mail.id)
      .execute();
    return { ...mail, message: mail.message, tries: mail.tries + 1, hand };
  });
}
const jobClass = 7_302;

const end = (db: Database, id: number, state: MailState, reply: string) =>
  db
    .updateTable('mails')
    .set({ state, reply, ended_at: clock.date() })
    .where('id', '=', id)
    .execute();

/** An email gets its date and its id when it is sent: a second sending is another email. */
export function dated(
  message: Buffer,
  sender: string,
  name = randomUUID(),
  at = clock.date(),
): Buffer {
  const cut = message.indexOf('\r\n\r\n');
  const head = message
    .subarray(0, cut)
    .toString('latin1')
    .replace(/^(Date|Message-ID):.*(\r\n[ \t].*)*\r\n/gim, '')
    .replace(/\r\n(Date|Message-ID):.*(\r\n[ \t].*)*$/i, '');
  const domain = sender.slice(sender.lastIndexOf('@') + 1);
  return Buffer.concat([
    Buffer.from(
      `Date: ${at.toUTCString().replace('GMT', '+0000')}\r\nMessage-ID: <${name}@${domain}>\r\n${head}`,
      'latin1',
    ),
    message.subarray(cut),
  ]);
}

async function handed(
  line: Line,
  server: MailServer,
  mail: Taken,
): Promise<Handed & { trouble?: MailTrouble }> {
  try {
    return await line.hand(server.sender, mail.address.trim(), dated(mail.message, server.sender));
  } catch (error) {
    if (!(error instanceof MailTrouble)) throw error;
    // nothing of it was sent: it waits, and the problem is the server
    return { state: 'later', reply: error.message, trouble: error };
  }
}

/** Stores the result, unless another process has declared it lost in the meantime. */
async function tell(
  db: Database,
  run: number,
  mail: Taken,
  { state, reply }: Handed,
): Promise<void> {
  const pause = pauses[mail.tries - 1];
  const later = state === 'later' && pause !== undefined;
  await db
    .updateTable('mails')
    .set({
      reply,
      handed_by: null,
      ...(later
        ? { state: 'waiting' as const, due_at: sql<Date>`now() + ${pause} * interval '1 second'` }
        : {
            state: state === 'later' ? ('refused' as const) : state,
            ended_at: clock.date(),
            // what was sent is not stored a second time
            ...(state === 'sent' ? { message: null } : {}),
          }),
    })
    .where('id', '=', mail.id)
    .where('state', '=', 'handing')
    .where('handed_by', '=', mail.hand)
    .execute();
  if (state === 'sent')
    await db
      .updateTable('runs')
      .set({ mail_trouble: null })
      .where('id', '=', run)
      .where('mail_trouble', 'is not', null)
      .execute();
}

/** Marks the emails of a run as not to be continued. */
export async function giveUp(db: Database, run: number, why: string): Promise<void> {
  await db
    .updateTable('runs')
    .set({ mail_trouble: `The emails could not be sent: ${why}.` })
    .where('id', '=', run)
    .execute();
  await stopMails(db, run);
}

/** Sends no more emails of a run: the next one stays. */
export async function stopMails(db: Database, run: number): Promise<void> {
  await db
    .updateTable('mails')
    .set({ state: 'stopped', reply: 'It was stopped before its turn.', ended_at: clock.date() })
    .where('run_id', '=', run)
    .where('state', '=', 'waiting')
    .execute();
}

/**
 * For a run that is deleted: waiting emails are not sent, and no text is kept. The fact that a
 * person had one stays.
 */
export async function forgetMails(db: Database, run: number): Promise<void> {
  await stopMails(db, run);
  await db.updateTable('mails').set({ message: null }).where('run_id', '=', run).execute();
}

/**
 * Releases emails of a run. Uncertain ones are sent again only if they are asked for by that state.
 * @throws Refusal if there is none
 */
export async function sendMailsAgain(
  db: Database,
  run: number,
  which: 'stopped' | 'refused' | 'unsure',
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('mails')
      .set({
        state: 'waiting',
        reply: '',
        tries: 0,
        due_at: sql<Date>`now()`,
        ended_at: null,
        ...(which === 'unsure' ? { again: true } : {}),
      })
      .where('run_id', '=', run)
      .where('state', '=', which)
      .where('message', 'is not', null)
      .executeTakeFirst();
    if (numUpdatedRows === 0n)
      throw new Refusal(
        'None of these emails is kept any longer. Start a new run to make them again.',
      );
    await tx.updateTable('runs').set({ mail_trouble: null }).where('id', '=', run).execute();
    await askFor(tx, run);
  });
}

/** States of the emails of some runs, by run. */
export async function mailCounts(
  db: Database,
  runs: readonly { id: number; mail_trouble: string | null; instead: string | null }[],
): Promise<Map<number, MailCounts>> {
  const rows = await db
    .selectFrom('mails')
    .select((e) => ['run_id', 'state', e.fn.countAll<number>().as('n')])
    .where('run_id', 'in', [...runs.map((run) => run.id), -1])
    .where('kind', '<>', 'notice')
    .groupBy(['run_id', 'state'])
    .execute();
  return new Map(
    runs.map((run) => [
      run.id,
      {
        counts: Object.fromEntries(
          mailStates.map((state) => [
            state,
            rows.find((row) => row.run_id === run.id && row.state === state)?.n ?? 0,
          ]),
        ) as MailCounts['counts'],
        trial: run.instead,
        trouble: run.mail_trouble,
      },
    ]),
  );
}

/** Emails of a run, those that need a look first; the first thousand, or all. */
export async function listMails(db: Database, run: number, most = 1000): Promise<MailLine[]> {
  const rows = await db
    .selectFrom('mails')
    .select(['record_id', 'title', 'address', 'state', 'reply', 'ended_at'])
    .where('run_id', '=', run)
    .where('kind', '<>', 'notice')
    .orderBy(
      sql`array_position(array['unsure', 'refused', 'held', 'stopped', 'handing', 'waiting',
        'sent'], state)`,
    )
    .orderBy('seq')
    .limit(most)
    .execute();
  return rows.map((row) => ({
    record: row.record_id,
    title: row.title,
    address: row.address,
    state: row.state,
    reply: row.reply,
    at: row.ended_at?.toISOString() ?? null,
  }));
}

/** The account of a run's mails as CSV, with a byte order mark. */
export async function mailAccount(db: Database, run: number): Promise<Uint8Array> {
  const lines = await listMails(db, run, 1_000_000);
  return Buffer.from(
    csvLines(
      [
        ['Record', 'Email address', 'Email', 'When', 'Answer of the server'],
        ...lines.map((l) => [l.title, l.address, mailStateWords[l.state], l.at ?? '', l.reply]),
      ],
      { bom: true },
    ),
  );
}
