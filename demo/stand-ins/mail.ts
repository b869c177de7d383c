/**
 * A stand-in for a mail server, on this machine only. It takes what it is handed and keeps it in
 * the Out-tray, where it can be read. What is mailed to `in-tray@…` lands in the In-tray’s folder
 * Mail. Two kinds of addresses behave as real ones do now and then: `gone…@` is refused for good,
 * `full…@` once, for the moment.
 */
import { randomBytes } from 'node:crypto';
import { mkdirSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import { safeName } from '../../src/core/run/names';
import { databaseUrl, openDatabase } from '../../src/server/platform/db';

const folder = process.env.HAND_STAMP_OUT_TRAY ?? '';
const once = new Set<string>();
const answer = (code: number, words: string) =>
  Object.assign(new Error(words), { responseCode: code });

const server = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  size: 40 * 2 ** 20,
  onRcptTo: ({ address }, _session, done) => {
    if (address.startsWith('gone')) return done(answer(550, 'There is no such mailbox'));
    if (address.startsWith('full') && !once.has(address)) {
      once.add(address);
      return done(answer(452, 'The mailbox is full at the moment'));
    }
    done();
  },
  onData: (stream, { envelope: { rcptTo: to } }, done) => {
    const parts: Buffer[] = [];
    stream.on('data', (part: Buffer) => parts.push(part));
    stream.on('end', () => {
      const name = `${Date.now()}-${randomBytes(4).toString('hex')}`;
      const path = join(folder, name);
      // whole or not at all
      writeFileSync(`${path}.part`, Buffer.concat(parts));
      renameSync(`${path}.part`, `${path}.eml`);
      const whole = Buffer.concat(parts);
      if (to.some(({ address }) => /^in-tray@/i.test(address)))
        void takeIn(whole).then(
          () => done(),
          (error: unknown) => done(error instanceof Error ? error : new Error(String(error))),
        );
      else done();
    });
    stream.on('error', done);
  },
});
/**
 * Puts what a mail brings along into the In-tray. Mails of our own bring nothing in, or two orders
 * could send one to the other for ever.
 */
async function takeIn(message: Buffer): Promise<void> {
  const tray = process.env.HAND_STAMP_TRAY;
  const mail = await simpleParser(message);
  if (!tray || mail.messageId?.includes('@hand-stamp.invalid')) return;
  const into = join(tray, 'Mail');
  mkdirSync(into, { recursive: true });
  for (const file of mail.attachments.filter((one) => !one.related)) {
    const path = join(into, safeName(file.filename ?? 'file'));
    writeFileSync(`${path}.part`, file.content);
    renameSync(`${path}.part`, path);
  }
}

// a client that goes away in the middle is no reason to stop
server.on('error', (error) => console.error(error.message));

const port = Number(process.env.HAND_STAMP_STAND_IN_PORT ?? 0);
const listening = server.listen(port, '127.0.0.1', () => {
  const address = listening.address();
  if (!address || typeof address === 'string') return;
  pointThere(address.port).catch((error: unknown) => {
    console.error(error);
    process.exit(1);
  });
});

/** Settings name the stand-in unless somebody named a server of their own. */
async function pointThere(at: number): Promise<void> {
  const { db } = openDatabase(databaseUrl(), 1);
  const row = await db
    .selectFrom('settings')
    .select('value')
    .where('name', '=', 'mail.server')
    .executeTakeFirst();
  const kept = row && (JSON.parse(row.value) as { host: string; user: string });
  if (!kept || (kept.host === '127.0.0.1' && kept.user === '')) {
    const value = JSON.stringify({
      senderName: 'Marram Bay Botanic Garden',
      sender: 'codes@marrambay.example',
      pace: 600,
      notices: 'coordinator@marrambay.example',
      ...kept,
      host: '127.0.0.1',
      port: at,
      tls: 'no',
      user: '',
    });
    await db
      .insertInto('settings')
      .values({ name: 'mail.server', value })
      .onConflict((c) => c.column('name').doUpdateSet({ value }))
      .execute();
  }
  await db.destroy();
}
process.on('SIGTERM', () => process.exit(0));
process.on('SIGINT', () => process.exit(0));
