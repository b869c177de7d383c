import type { MailServerChange } from '../../src/contract';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';

const answer = (code: number, words: string) =>
  Object.assign(new Error(words), { responseCode: code });

export interface Taken {
  to: string;
  raw: Buffer;
  mail: ParsedMail;
}

/** A mail server on loopback whose answers a test decides. */
export interface TestMailServer {
  port: number;
  taken: Taken[];
  /** Who signed in with what. */
  signedIn: { user: string; password: string }[];
  /** Its answer about a recipient; undefined if it accepts the email. */
  recipient: (address: string) => { code: number; words: string } | undefined;
  /**
   * Done when a mail has come whole, before it is answered. `break` cuts the connection instead of
   * answering.
   */
  whole: (taken: Taken) => Promise<'answer' | 'break'> | 'answer' | 'break';
  close(): Promise<void>;
}

export async function mailServer({ needsSignIn = false, port = 0 } = {}): Promise<TestMailServer> {
  const sockets = new Map<string, { destroy(): void }>();
  const self: TestMailServer = {
    port: 0,
    taken: [],
    signedIn: [],
    recipient: () => undefined,
    whole: () => 'answer',
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
  const server = new SMTPServer({
    authOptional: !needsSignIn,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    closeTimeout: 1,
    onAuth: (auth, _session, done) => {
      self.signedIn.push({ user: auth.username ?? '', password: auth.password ?? '' });
      if (auth.password === 'right') done(null, { user: auth.username });
      else done(answer(535, 'Wrong name or password'));
    },
    onRcptTo: ({ address }, _session, done) => {
      const said = self.recipient(address);
      done(said ? answer(said.code, said.words) : undefined);
    },
    onData: (stream, session, done) => {
      const parts: Buffer[] = [];
      stream.on('data', (part: Buffer) => parts.push(part));
      stream.on('end', () => {
        void (async () => {
          const raw = Buffer.concat(parts);
          const [to] = session.envelope.rcptTo;
          const taken = { to: to!.address, raw, mail: await simpleParser(raw) };
          self.taken.push(taken);
          if ((await self.whole(taken)) === 'answer') done();
          else for (const socket of sockets.values()) socket.destroy();
        })();
      });
    },
  });
  server.on('error', () => undefined);
  const listening = server.listen(port, '127.0.0.1');
  listening.on('connection', (socket: { destroy(): void }) =>
    sockets.set(String(sockets.size), socket),
  );
  await new Promise<void>((resolve) => listening.once('listening', () => resolve()));
  self.port = (listening.address() as { port: number }).port;
  return self;
}

/** What Settings say of a mail server of a test. */
export const mailSettings = (
  port: number,
  change: Partial<MailServerChange> = {},
): MailServerChange => ({
  host: '127.0.0.1',
  port,
  tls: 'no',
  user: '',
  senderName: 'Marram Bay',
  sender: 'codes@marrambay.example',
  pace: 6000,
  notices: '',
  ...change,
});
