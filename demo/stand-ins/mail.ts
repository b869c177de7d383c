/**
 * A stand-in for a mail server, on this machine only. It takes what it is handed and keeps it in the Out-tray, where it can be read.
 * Two kinds of addresses behave as real ones do now and then: `gone…@` is refused for good, `full…@` once, for the moment.
 */
import { randomBytes } from 'node:crypto';
import { renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { SMTPServer } from 'smtp-server';
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
  onData: (stream, _session, done) => {
    const parts: Buffer[] = [];
    stream.on('data', (part: Buffer) => parts.push(part));
    stream.on('end', () => {
      const name = `${Date.now()}-${randomBytes(4).toString('hex')}`;
      const path = join(folder, name);
      // whole or not at all
      writeFileSync(`${path}.part`, Buffer.concat(parts));
      renameSync(`${path}.part`, `${path}.eml`);
      done();
    });
    stream.on('error', done);
  },
});
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
