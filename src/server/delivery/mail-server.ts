import type { MailServerChange, MailServerView } from '../../contract';
import { mailServerSchema } from '../../contract';
import { type Database, Refusal, seal, unseal } from '../platform';

const names = { server: 'mail.server', password: 'mail.password' } as const;

/** How mails leave, with what signs in there. */
export type MailServer = MailServerChange;

async function kept(db: Database) {
  const rows = await db
    .selectFrom('settings')
    .selectAll()
    .where('name', 'in', Object.values(names))
    .execute();
  const value = (name: string) => rows.find((row) => row.name === name)?.value;
  const text = value(names.server);
  return {
    server: text === undefined ? undefined : mailServerSchema.parse(JSON.parse(text)),
    password: value(names.password),
  };
}

/** As it is shown; null if none is set. */
export async function viewMailServer(db: Database): Promise<MailServerView | null> {
  const { server, password } = await kept(db);
  return server ? { ...server, hasPassword: password !== undefined } : null;
}

/** Undefined if none is set. */
export async function mailServerOf(db: Database): Promise<MailServer | undefined> {
  const { server, password } = await kept(db);
  return server && { ...server, ...(password ? { password: unseal(password) } : {}) };
}

/**
 * Sets the server by which emails are sent. A password is used only for the server and the user
 * name it was entered for.
 * @throws Refusal if it would be used for another
 */
export async function changeMailServer(db: Database, change: MailServerChange): Promise<void> {
  const { password, ...server } = change;
  await db.transaction().execute(async (tx) => {
    const before = await kept(tx);
    const same =
      before.server &&
      (['host', 'port', 'user'] as const).every((key) => before.server![key] === server[key]) &&
      // nor unencrypted if it was entered for an encrypted connection
      (before.server.tls === server.tls || before.server.tls === 'no');
    if (server.user !== '' && password === undefined && !(same && before.password))
      throw new Refusal(
        'Enter the password again: the saved one is only for the server, user name and encryption it was entered for.',
      );
    await put(tx, names.server, JSON.stringify(server));
    if (server.user === '' || password === '')
      await tx.deleteFrom('settings').where('name', '=', names.password).execute();
    else if (password !== undefined) await put(tx, names.password, seal(password));
  });
}

async function put(db: Database, name: string, value: string): Promise<void> {
  await db
    .insertInto('settings')
    .values({ name, value })
    .onConflict((c) => c.column('name').doUpdateSet({ value }))
    .execute();
}
