import { mailHtml } from '../../core/mail/mail';
import { composeMail } from '../outputs';
import { clock, type Database, log, Refusal } from '../platform';
import { mailServerOf } from './mail-server';
import { dated } from './mails';
import { MailTrouble, openMailLine } from './smtp';

interface ShortMail {
  to: { name: string; address: string };
  subject: string;
  paragraphs: readonly string[];
}

/**
 * Sends one email by the server of Settings while the caller waits. @throws Refusal with the
 * server's answer
 */
async function sendNow(db: Database, { to, subject, paragraphs }: ShortMail): Promise<void> {
  const server = await mailServerOf(db);
  if (!server) throw new Refusal('Choose a mail server in Settings first.');
  const message = await composeMail({
    from: { name: server.senderName, address: server.sender },
    to,
    subject,
    text: `${paragraphs.join('\n\n')}\n`,
    html: mailHtml(paragraphs, [], 'none'),
    pictures: [],
    files: [],
    date: clock.date(),
  });
  try {
    const line = await openMailLine(server);
    const { state, reply } = await line
      .hand(server.sender, to.address, dated(message, server.sender))
      .finally(() => line.close());
    if (state !== 'sent')
      throw new Refusal(`The email was not sent. The server says: ${reply}`, 502);
  } catch (error) {
    throw error instanceof MailTrouble ? new Refusal(error.message, 502) : error;
  }
}

/** Sends a test email by the server of Settings. @throws Refusal with the server's answer */
export const tryMailServer = (db: Database, to: string): Promise<void> =>
  sendNow(db, {
    to: { name: '', address: to },
    subject: 'Test email from Hand Stamp',
    paragraphs: ['Emails from Hand Stamp leave by this server.'],
  });

/** An address that lets someone in, for them alone. */
export interface Welcome {
  kind: 'invitation' | 'reset';
  name: string;
  email: string;
  address: string;
  by?: string;
}

/**
 * Sends a person their sign-in link. Returns whether it was sent; if not, the person who made it
 * passes it on by other means.
 */
export async function mailWelcome(
  db: Database,
  { kind, name, email, address, by }: Welcome,
): Promise<boolean> {
  const words =
    kind === 'invitation'
      ? {
          subject: 'Create your account in Hand Stamp',
          paragraphs: [
            `Hello ${name},`,
            `${by ?? 'An administrator'} has invited you to Hand Stamp. Open this link within 7 days to create your account. It works once:`,
            address,
            'If you do not know who sent this, ignore this email.',
          ],
        }
      : {
          subject: 'Set a new password for Hand Stamp',
          paragraphs: [
            `Hello ${name},`,
            'Use this link to set a new password. It works once, for 2 hours:',
            address,
            'If you did not ask for this, ignore this email. Nothing has changed.',
          ],
        };
  try {
    await sendNow(db, { to: { name, address: email }, ...words });
    return true;
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    log.warn({ reason: error.message }, 'an address that lets someone in could not be mailed');
    return false;
  }
}
