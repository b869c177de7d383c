import { sql } from 'kysely';
import { counted } from '../../core/base/words';
import { mailHtml } from '../../core/mail/mail';
import { composeMail } from '../outputs';
import type { Database } from '../platform';
import { viewMailServer } from './mail-server';
import { queueMails } from './mails';

/**
 * Puts a notice into the Out-tray that a run is done, with its result; also by email, if Settings
 * name an address.
 */
export async function writeLetter(db: Database, runId: number): Promise<void> {
  const run = await db
    .selectFrom('runs')
    .selectAll()
    .where('id', '=', runId)
    .executeTakeFirstOrThrow();
  if (run.codes_failed === 0 && byOrder.test(run.created_by) && (await addToLetter(db, run)))
    return;
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
  const subject =
    run.codes_failed > 0 ? `${run.name}: done, but some codes do not read` : `${run.name} is done`;
  const body = lines.filter(Boolean).join(' ');
  await db
    .insertInto('letters')
    .values({ kind: 'run', subject, body, run_id: runId, job_id: run.job_id })
    .execute();
  const server = await viewMailServer(db);
  if (!server?.notices) return;
  const message = await composeMail({
    from: { name: server.senderName, address: server.sender },
    to: { name: '', address: server.notices },
    subject,
    text: `${body}\n`,
    html: mailHtml([body], [], 'none'),
    pictures: [],
    files: [],
    date: new Date(run.created_at),
  });
  await queueMails(db, runId, [
    {
      kind: 'notice',
      job: run.job_id,
      run: runId,
      seq: -1,
      record: null,
      title: run.name,
      address: server.notices,
      subject,
      message,
    },
  ]);
}

/**
 * Runs that a standing order starts are reported together: fifty files that arrive make one notice.
 */
const byOrder = /^the standing order /;

/**
 * Adds a run to the notice of the run before that the same order started for the same job within an
 * hour. Returns whether there is one.
 */
async function addToLetter(
  db: Database,
  run: { id: number; job_id: number; created_by: string },
): Promise<boolean> {
  const before = await db
    .selectFrom('letters as l')
    .innerJoin('runs as r', 'r.id', 'l.run_id')
    .select(['l.id', 'l.written_at'])
    .where('l.kind', '=', 'run')
    .where('l.job_id', '=', run.job_id)
    .where('r.created_by', '=', run.created_by)
    .where('r.codes_failed', '=', 0)
    .where('l.written_at', '>', sql<Date>`now() - interval '1 hour'`)
    .orderBy('l.id', 'desc')
    .limit(1)
    .forUpdate('l')
    .executeTakeFirst();
  if (!before) return false;
  const { runs, pieces, codes } = await db
    .selectFrom('runs')
    .select((e) => [
      e.fn.countAll<number>().as('runs'),
      e.fn.sum<string>('pieces').as('pieces'),
      e.fn.sum<string>('codes').as('codes'),
    ])
    .where('job_id', '=', run.job_id)
    .where('created_by', '=', run.created_by)
    .where('codes_failed', '=', 0)
    .where((e) =>
      e.or([
        e('id', '=', run.id),
        e.and([e('state', '=', 'done'), e('finished_at', '>=', before.written_at)]),
      ]),
    )
    .executeTakeFirstOrThrow();
  const name = run.created_by.replace(/^t/, 'T');
  await db
    .updateTable('letters')
    .set({
      run_id: run.id,
      subject: `${name}: ${counted(runs, 'run is', 'runs are')} done`,
      body: `${counted(Number(pieces), 'piece', 'pieces')} in all.${Number(codes) > 0 ? ` All ${counted(Number(codes), 'code', 'codes')} read back.` : ''} The files of each are at its job. The files of the last one are here.`,
    })
    .where('id', '=', before.id)
    .execute();
  return true;
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
