import { mailHtml } from '../../core/mail/mail';
import { composeMail } from '../outputs';
import { type Database, Refusal } from '../platform';
import { mailServerOf } from './mail-server';
import { dated } from './mails';
import { MailTrouble, openMailLine } from './smtp';

/** Sends a mail by the server of Settings, to see whether one leaves. @throws Refusal with what the server said */
export async function tryMailServer(db: Database, to: string): Promise<void> {
  const server = await mailServerOf(db);
  if (!server) throw new Refusal('Say first by which server mails leave.');
  const words = 'Mails of Hand Stamp leave by this server.';
  const message = await composeMail({
    from: { name: server.senderName, address: server.sender },
    to: { name: '', address: to },
    subject: 'A mail to try the server',
    text: `${words}\n`,
    html: mailHtml([words], [], 'none'),
    pictures: [],
    files: [],
    date: new Date(),
  });
  try {
    const line = await openMailLine(server);
    const { state, reply } = await line
      .hand(server.sender, to, dated(message, server.sender))
      .finally(() => line.close());
    if (state !== 'sent')
      throw new Refusal(`The mail did not leave. The server says: ${reply}`, 502);
  } catch (error) {
    throw error instanceof MailTrouble ? new Refusal(error.message, 502) : error;
  }
}
