import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { unzipSync } from 'fflate';
import { sql } from 'kysely';
import { simpleParser } from 'mailparser';
import { afterAll, afterEach, beforeAll, beforeEach, expect, test, vi } from 'vitest';
import type { MailState } from '../../../src/core/mail/states';
import type { Output } from '../../../src/core/run/outputs';
import { changeMailServer, mailServerOf, viewMailServer } from '../../../src/server/delivery';
import { sendMails, stopMails } from '../../../src/server/delivery/mails';
import { changeJob, viewJob } from '../../../src/server/jobs';
import { proofOf } from '../../../src/server/runs/proof';
import { removeRun, runAgain, startRun } from '../../../src/server/runs/runs';
import { viewRun } from '../../../src/server/runs/run-views';
import { ending } from '../../../src/server/platform/ending';
import { readAll } from '../../helpers/barcode';
import { testDatabase, type TestDatabase } from '../../helpers/database';
import { mailServer, mailSettings, type TestMailServer } from '../../helpers/mail-server';
import { runsIn } from '../../helpers/runs';
import { argumentsOf } from '../../helpers/programs';

let t: TestDatabase;
let post: TestMailServer;
beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  t = await testDatabase();
});
afterAll(() => t.close());
const runs = runsIn(() => t);
beforeEach(async () => {
  post = await mailServer();
  await settle({ port: post.port });
});
afterEach(() => post.close());

const settle = (change: Partial<Parameters<typeof changeMailServer>[1]> = {}) =>
  changeMailServer(t.db, mailSettings(1, change));

const people = [
  ['DH-1', 'Ines Okafor', 'ines@post.example'],
  ['DH-2', 'Tam Bellweather', 'tam@post.example'],
  ['DH-3', 'Σοφία Καρρά', 'sofia@post.example'],
];
const steward = (rows: string[][] = people) =>
  runs.job(['Badge', 'Name', 'E-mail'], ['key', 'name', 'email'], rows, 'Stewards');

/** Makes the mails of a job; they wait. */
const make = (job: number, output: Partial<Output> = {}): Promise<number> =>
  runs.run(job, { output: { kind: 'mail', ...output } });

const states = async (run: number): Promise<Record<string, MailState>> =>
  Object.fromEntries(
    (
      await t.db
        .selectFrom('mails')
        .select(['address', 'state'])
        .where('run_id', '=', run)
        .where('kind', '<>', 'notice')
        .execute()
    ).map((m) => [m.address, m.state]),
  );
const dueNow = () =>
  t.db
    .updateTable('mails')
    .set({ due_at: sql<Date>`now()` })
    .execute();
const pieceless = async (job: number, change: object) => {
  const { version, document } = await viewJob(t.db, job);
  await changeJob(t.db, job, { version, document: { ...document, ...change } }, 'test');
};

test('each person gets their own code in the mail, and it reads from the mail that came', async () => {
  const job = await steward();
  const run = await make(job.id);
  expect((await viewRun(t.db, run)).mail?.counts.waiting).toBe(3);
  await sendMails(t.db, run);
  expect(post.taken.map((m) => m.to).sort()).toEqual([
    'ines@post.example',
    'sofia@post.example',
    'tam@post.example',
  ]);
  for (const { mail, to } of post.taken) {
    const [badge, name] = people.find((p) => p[2] === to)!;
    expect(mail.text).toContain(`Hello ${name},`);
    expect(mail.from?.value[0]).toEqual({ name: 'Marram Bay', address: 'codes@marrambay.example' });
    expect(mail.html).toContain('data:image/png;base64,');
    // inside the mail and not fetched from anywhere
    expect(mail.html).not.toMatch(/src="(?!data:)/);
    const [picture] = mail.attachments;
    expect(picture!.related).toBe(true);
    expect((await readAll(picture!.content)).map((r) => r.text)).toEqual([badge]);
  }
  // names are never the same, so that no server takes one for another
  expect(new Set(post.taken.map((m) => m.mail.messageId)).size).toBe(3);
  const view = await viewRun(t.db, run);
  expect(view.mail?.counts).toMatchObject({ sent: 3, waiting: 0 });
  expect(view).toMatchObject({ codes: 3, read: 3, failed: 0 });
  // what was sent is not stored twice
  const kept = await t.db.selectFrom('mails').select('message').where('run_id', '=', run).execute();
  expect(kept.every((m) => m.message === null)).toBe(true);
});

test('what is attached is what a run of it makes, and the same mails are the same bytes', async () => {
  const job = await steward();
  await pieceless(job.id, {
    mail: {
      to: 'c3',
      replyTo: 'desk@marrambay.example',
      subject: [
        { kind: 'text', text: 'Badge\r\nBcc: everybody@post.example of ' },
        { kind: 'column', column: 'c2' },
      ],
      body: [[{ kind: 'text', text: 'See <b>https://marrambay.example/a?b=1&c=2</b>.' }]],
      codes: 'none',
      attach: 'pdf-each',
    },
  });
  const run = await make(job.id);
  const again = await runAgain(t.db, run, 'test');
  await runs.work();
  const files = async (id: number) => unzipSync(await runs.bytesOf(id, '.zip'));
  const [first, second] = [await files(run), await files(again)];
  const names = Object.keys(first).filter((name) => name.endsWith('.eml'));
  expect(names).toHaveLength(3);
  for (const name of names) expect(second[name]).toEqual(first[name]);
  const mail = await simpleParser(Buffer.from(first[names[0]!]!));
  // what a value or a subject holds begins no header of its own
  expect(mail.subject).toBe('Badge Bcc: everybody@post.example of Ines Okafor');
  expect(mail.bcc).toBeUndefined();
  expect(mail.replyTo?.text).toBe('desk@marrambay.example');
  expect(mail.html).toContain('&lt;b&gt;');
  expect(mail.html).toContain('<a href="https://marrambay.example/a?b=1&amp;c=2">');
  expect(mail.attachments.map((a) => a.filename)).toEqual(['DH-1.pdf']);
  expect(mail.attachments[0]!.content.subarray(0, 5).toString()).toBe('%PDF-');
  // the second run sends nothing to people who had theirs from the first
  await sendMails(t.db, run);
  await sendMails(t.db, again);
  expect(post.taken).toHaveLength(3);
  expect(Object.values(await states(again))).toEqual(['stopped', 'stopped', 'stopped']);
});

test('wrong and blank addresses are left out and told, shared ones told, and who had one is not asked again', async () => {
  const job = await steward([
    ...people,
    ['DH-4', 'Nobody', ''],
    ['DH-5', 'Slip', 'slip at post.example'],
    ['DH-6', 'Two', 'a@post.example, b@post.example'],
    ['DH-7', 'Ines the younger', 'INES@post.example'],
  ]);
  const wanted = { name: 'Mail', which: 'with-code' as const, output: { kind: 'mail' } };
  const proof = await proofOf(t.db, job.id, wanted, 0);
  expect(proof.pieces).toBe(4);
  expect(proof.items.map((i) => i.seq)).toEqual([0, 1, 2, 3]);
  expect(Object.fromEntries(proof.leftOut.map((l) => [l.title, l.reason]))).toEqual({
    Nobody: 'there is no email address',
    Slip: '“slip at post.example” is not an email address',
    Two: '“a@post.example, b@post.example” is more than one email address',
  });
  expect(proof.shared).toEqual({
    records: 2,
    first: [{ address: 'ines@post.example', titles: ['Ines Okafor', 'Ines the younger'] }],
  });
  const run = await make(job.id);
  expect((await viewRun(t.db, run)).pieces).toBe(4);
  await sendMails(t.db, run);
  expect(post.taken).toHaveLength(4);
  const after = await proofOf(t.db, job.id, wanted, 0);
  expect(after.pieces).toBe(0);
  expect(after.leftOut.find((l) => l.title === 'Ines Okafor')?.reason).toBe(
    'already had an email from this job',
  );
  await expect(make(job.id)).rejects.toThrow('already had the email');
  // thrown away, a run does not forget who had one
  await removeRun(t.db, run);
  await expect(make(job.id)).rejects.toThrow('already had the email');
  const on = await make(job.id, { again: true });
  await sendMails(t.db, on);
  expect(post.taken).toHaveLength(8);
});

test('to whoever tries it out first it goes as often as they like, and counts for nobody', async () => {
  const job = await steward();
  for (let n = 0; n < 2; n++) {
    const run = await runs.run(job.id, {
      which: 'ticked',
      ticked: (await proofOf(t.db, job.id, { name: 'x', which: 'ready' }, 0)).items
        .slice(0, 1)
        .map((i) => i.record),
      output: { kind: 'mail', instead: 'me@marrambay.example' },
    });
    await sendMails(t.db, run);
  }
  expect(post.taken.map((m) => m.to)).toEqual(['me@marrambay.example', 'me@marrambay.example']);
  expect(post.taken[0]!.mail.text).toContain('Ines Okafor');
  const proof = await proofOf(
    t.db,
    job.id,
    { name: 'x', which: 'ready', output: { kind: 'mail' } },
    0,
  );
  expect(proof.pieces).toBe(3);
});

test('a refusal for good is told, one for the moment is tried again after a pause', async () => {
  const job = await steward();
  const full = new Set(['tam@post.example']);
  post.recipient = (to) =>
    to.startsWith('ines')
      ? { code: 550, words: 'There is no such mailbox' }
      : full.has(to)
        ? { code: 452, words: 'The mailbox is full' }
        : undefined;
  const run = await make(job.id);
  await sendMails(t.db, run);
  expect(await states(run)).toEqual({
    'ines@post.example': 'refused',
    'tam@post.example': 'waiting',
    'sofia@post.example': 'sent',
  });
  const { rows } = await sql<{ task: string; later: boolean }>`
    select task_identifier as task, run_at > now() + interval '30 seconds' as later from graphile_worker.jobs where key = ${`mail-${run}`}`.execute(
    t.db,
  );
  expect(rows).toEqual([{ task: 'mail.send', later: true }]);
  full.clear();
  await dueNow();
  await sendMails(t.db, run);
  expect((await states(run))['tam@post.example']).toBe('sent');
  const refused = await t.db
    .selectFrom('mails')
    .select('reply')
    .where('run_id', '=', run)
    .where('state', '=', 'refused')
    .executeTakeFirstOrThrow();
  expect(refused.reply).toContain('no such mailbox');
});

test('where the connection breaks after the text was handed over, nobody says it was sent or not, and it is not tried again', async () => {
  const job = await steward();
  post.whole = ({ to }) => (to.startsWith('tam') ? 'break' : 'answer');
  const run = await make(job.id);
  await sendMails(t.db, run);
  await dueNow();
  await sendMails(t.db, run);
  expect(await states(run)).toEqual({
    'ines@post.example': 'sent',
    'tam@post.example': 'unsure',
    'sofia@post.example': 'sent',
  });
  expect(post.taken.filter((m) => m.to.startsWith('tam'))).toHaveLength(1);
});

test('killed while it hands a mail over, or losing its database, a worker leaves one mail not certain and sends no other twice', async () => {
  const rows = Array.from({ length: 9 }, (_, n) => [`K-${n}`, `P ${n}`, `p${n}@post.example`]);
  for (const loses of ['its life', 'its database'] as const) {
    const job = await steward(rows);
    const run = await make(job.id);
    post.taken.length = 0;
    let killed = false;
    const came = new Promise<void>((resolve) => {
      post.whole = async (): Promise<'answer'> => {
        if (killed || post.taken.length < 4) return 'answer';
        killed = true;
        if (loses === 'its life') child.kill('SIGKILL');
        else
          await sql`select pg_terminate_backend(pid) from pg_locks
            where locktype = 'advisory' and classid = 7301 and objid = ${run}`.execute(t.db);
        resolve();
        return 'answer';
      };
    });
    const child = spawn(
      process.execPath,
      [...argumentsOf('tests/helpers/one-step'), 'mails', JSON.stringify({ run })],
      { env: { ...process.env, DATABASE_URL: t.url }, stdio: 'ignore' },
    );
    const ended = once(child, 'exit');
    await came;
    await ended;
    // the database lets go of what a process that is gone held once it sees that it is
    await vi.waitUntil(
      async () => {
        const { rows } = await sql`select 1 from pg_locks
          where locktype = 'advisory' and classid = 7301 and objid = ${run}`.execute(t.db);
        return rows.length === 0;
      },
      { timeout: 30_000 },
    );
    await sendMails(t.db, run);
    const all = Object.entries(await states(run));
    expect(all.filter(([, state]) => state === 'unsure').map(([address]) => address)).toEqual([
      'p3@post.example',
    ]);
    expect(all.filter(([, state]) => state === 'sent')).toHaveLength(8);
    const to = post.taken.map((m) => m.to);
    expect(new Set(to).size).toBe(to.length);
  }
});

test('a server that is away holds the mails and spends none of their tries', async () => {
  const job = await steward();
  const { port } = post;
  await post.close();
  const run = await make(job.id);
  for (let n = 0; n < 6; n++) await sendMails(t.db, run);
  const view = await viewRun(t.db, run);
  expect(view.mail).toMatchObject({ counts: { waiting: 3 } });
  expect(view.mail?.trouble).toContain('does not answer');
  post = await mailServer({ port });
  await sendMails(t.db, run);
  expect((await viewRun(t.db, run)).mail).toMatchObject({ counts: { sent: 3 }, trouble: null });
});

test('several hands at once send each mail once', async () => {
  const rows = Array.from({ length: 40 }, (_, n) => [`K-${n}`, `P ${n}`, `p${n}@post.example`]);
  const job = await steward(rows);
  const run = await make(job.id);
  const second = await runAgain(t.db, run, 'test');
  await runs.work();
  await Promise.all([run, run, second, second, run].map((id) => sendMails(t.db, id)));
  // processes that found another one at work stop when it is done
  await sendMails(t.db, run);
  await sendMails(t.db, second);
  expect(post.taken.map((m) => m.to).sort()).toEqual(rows.map((r) => r[2]).sort());
});

test('stopped, the next mail stays; the rest goes when it is asked for', async () => {
  const rows = Array.from({ length: 12 }, (_, n) => [`K-${n}`, `P ${n}`, `p${n}@post.example`]);
  const job = await steward(rows);
  const run = await make(job.id);
  post.whole = async (): Promise<'answer'> => {
    if (post.taken.length === 5) await stopMails(t.db, run);
    return 'answer';
  };
  await sendMails(t.db, run);
  expect(post.taken).toHaveLength(5);
  expect((await viewRun(t.db, run)).mail?.counts).toMatchObject({ sent: 5, stopped: 7 });
  const { sendMailsAgain } = await import('../../../src/server/delivery');
  await sendMailsAgain(t.db, run, 'stopped');
  await sendMails(t.db, run);
  expect(post.taken).toHaveLength(12);
});

test('a worker that is being stopped ends after the mail in hand, and leaves none of which nobody knows', async () => {
  const rows = Array.from({ length: 8 }, (_, n) => [`K-${n}`, `P ${n}`, `p${n}@post.example`]);
  const run = await make((await steward(rows)).id);
  post.whole = (): 'answer' => {
    ending.now = post.taken.length === 3;
    return 'answer';
  };
  await sendMails(t.db, run);
  expect((await viewRun(t.db, run)).mail?.counts).toMatchObject({ sent: 3, waiting: 5, unsure: 0 });
  ending.now = false;
  post.whole = () => 'answer';
  await sendMails(t.db, run);
  expect((await viewRun(t.db, run)).mail?.counts).toMatchObject({ sent: 8 });
});

test('a password goes to no other machine and for no other name, and is never shown', async () => {
  await post.close();
  post = await mailServer({ needsSignIn: true });
  await settle({ port: post.port, user: 'garden', password: 'right' });
  expect(JSON.stringify(await viewMailServer(t.db))).not.toContain('right');
  const lying = await sql<{
    text: string;
  }>`select string_agg(value, ' ') as text from settings`.execute(t.db);
  expect(lying.rows[0]!.text).not.toContain('right');
  await expect(settle({ port: post.port + 1, user: 'garden' })).rejects.toThrow('password again');
  await expect(settle({ port: post.port, user: 'else' })).rejects.toThrow('password again');
  await settle({ port: post.port, user: 'garden', pace: 3000 });
  expect((await mailServerOf(t.db))?.password).toBe('right');
  const job = await steward();
  const run = await make(job.id);
  await sendMails(t.db, run);
  expect(post.signedIn[0]).toEqual({ user: 'garden', password: 'right' });
  expect(post.taken).toHaveLength(3);
  // a wrong one stops them all, with the server's words, and spends nothing
  await settle({ port: post.port, user: 'garden', password: 'wrong' });
  const second = await make((await steward()).id);
  await sendMails(t.db, second);
  const { mail } = await viewRun(t.db, second);
  expect(mail?.trouble).toContain('Wrong name or password');
  expect(mail?.counts.stopped).toBe(3);
  await settle({ port: post.port, user: '' });
  expect((await viewMailServer(t.db))?.hasPassword).toBe(false);
});

test('the notice that a run is done goes to whom Settings say', async () => {
  await settle({ port: post.port, notices: 'desk@marrambay.example' });
  const job = await steward();
  const run = await runs.run(job.id);
  await sendMails(t.db, run);
  expect(post.taken.map((m) => [m.to, m.mail.subject])).toEqual([
    ['desk@marrambay.example', 'Weekend is done'],
  ]);
  expect(post.taken[0]!.mail.text).toContain('All 3 codes read back.');
});

test('without a server, or a column of addresses, nothing is begun', async () => {
  const job = await runs.job(['Badge', 'Name'], ['key', 'name'], [['A', 'B']]);
  await expect(
    startRun(t.db, job.id, { name: 'x', which: 'with-code', output: { kind: 'mail' } }, 'test'),
  ).rejects.toThrow('the column with the email addresses');
  await t.db.deleteFrom('settings').where('name', '=', 'mail.server').execute();
  await expect(make((await steward()).id)).rejects.toThrow('Settings');
});
