import { Readable } from 'node:stream';
import type { NodemailerError } from 'nodemailer/lib/errors.js';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import type { MailServer } from './mail-server';

/** The result of sending an email. `unsure`: it may have been accepted, and nobody can know. */
export interface Handed {
  state: 'sent' | 'refused' | 'later' | 'unsure';
  /** The server's answer, or what happened. */
  reply: string;
}

/**
 * The mail server cannot be spoken to: nothing was handed over. `lasting` where trying it again
 * does not help.
 */
export class MailTrouble extends Error {
  constructor(
    words: string,
    readonly lasting: boolean,
  ) {
    super(words);
  }
}

export interface MailLine {
  hand(sender: string, to: string, message: Uint8Array): Promise<Handed>;
  close(): void;
}

const timeLimit = 20_000;
const said = (error: NodemailerError): string =>
  (error.response ?? error.message).replace(/\s+/g, ' ').slice(0, 300);

/** Why a server could not be reached, in words. */
function troubleOf(server: MailServer, error: NodemailerError): MailTrouble {
  const where = `${server.host}, port ${server.port}`;
  if (error.code === 'EAUTH')
    return new MailTrouble(
      `The mail server refuses ${server.user}: ${said(error)}. Check the user name and password in Settings.`,
      true,
    );
  if (error.code === 'ETLS' || /certificate|SSL|TLS/i.test(error.message))
    return new MailTrouble(
      `The mail server at ${where} does not offer the encryption chosen in Settings: ${said(error)}.`,
      true,
    );
  if (error.responseCode && error.responseCode >= 500)
    return new MailTrouble(
      `The mail server at ${where} refuses the connection: ${said(error)}.`,
      true,
    );
  return new MailTrouble(`The mail server at ${where} does not answer (${said(error)}).`, false);
}

/** Opens a line to a mail server (RFC 5321, 3207, 4954). @throws MailTrouble */
export async function openMailLine(server: MailServer): Promise<MailLine> {
  const connection = new SMTPConnection({
    host: server.host,
    port: server.port,
    secure: server.tls === 'yes',
    requireTLS: server.tls === 'after',
    ignoreTLS: server.tls === 'no',
    allowInternalNetworkInterfaces: true,
    connectionTimeout: timeLimit,
    greetingTimeout: timeLimit,
    socketTimeout: timeLimit * 6,
  });
  let broken: NodemailerError | undefined;
  const lost = new Promise<never>((_, refuse) => {
    connection.on('error', (error: NodemailerError) => {
      broken = error;
      refuse(error);
    });
    connection.on('end', () => refuse(broken ?? new Error('the connection was closed')));
  });
  lost.catch(() => undefined);
  const step = <T>(start: (done: (error: NodemailerError | null, told?: T) => void) => void) =>
    Promise.race([
      new Promise<T | undefined>((answer, refuse) =>
        start((error, told) => (error ? refuse(error) : answer(told))),
      ),
      lost,
    ]);
  try {
    await step((done) => connection.connect((error) => done(error ?? null)));
    if (server.user !== '')
      await step((done) =>
        connection.login({ credentials: { user: server.user, pass: server.password ?? '' } }, done),
      );
  } catch (error) {
    connection.close();
    throw troubleOf(server, error as NodemailerError);
  }
  return {
    hand: async (sender, to, message) => {
      // whether the server read the whole text shows whether it can have accepted the email
      const text = Readable.from([Buffer.from(message)]);
      let gone = false;
      text.once('end', () => (gone = true));
      try {
        const told = await step<{ response: string }>((done) =>
          connection.send({ from: sender, to: [to], size: message.length }, text, (error, info) =>
            done(error, info),
          ),
        );
        return { state: 'sent', reply: (told?.response ?? '').slice(0, 300) };
      } catch (thrown) {
        const error = thrown as NodemailerError;
        const code = error.responseCode;
        if (code !== undefined && code >= 400)
          return { state: code < 500 ? 'later' : 'refused', reply: said(error) };
        if (gone)
          return {
            state: 'unsure',
            reply: `The connection broke after the email was sent (${said(error)}).`,
          };
        if (broken === undefined && error.code === 'EENVELOPE')
          return { state: 'refused', reply: said(error) };
        throw troubleOf(server, error);
      }
    },
    close: () => connection.quit(),
  };
}
