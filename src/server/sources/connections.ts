import { z } from 'zod';
import pg from 'pg';
import type { Database } from '../db';
import { IntakeError, mostRows } from '../intake/book';
import { Refusal } from '../refusal';
import { seal, unseal } from '../sealed';

export const connectionSchema = z.object({
  name: z.string().trim().min(1, 'Give the connection a name.').max(80),
  host: z.string().trim().min(1, 'Say on which machine the database runs.').max(200),
  port: z.number().int().min(1).max(65535),
  database: z.string().trim().min(1, 'Say which database.').max(120),
  username: z.string().trim().min(1, 'Say as whom.').max(120),
  password: z.string().max(200),
});
type NewConnection = z.infer<typeof connectionSchema>;

/** Longest that a query may take, in ms. */
const timeLimit = 30_000;

export async function listConnections(db: Database) {
  return db.selectFrom('connections').select(['id', 'name', 'host', 'port', 'database', 'username']).orderBy('name').execute();
}

/** Keeps a connection once it has been tried. */
export async function keepConnection(db: Database, wanted: NewConnection, actor: string): Promise<number> {
  await withClient(wanted, (client) => client.query('select 1'));
  const { id } = await db
    .insertInto('connections')
    .values({ ...wanted, password: seal(wanted.password), created_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

async function open(db: Database, id: number): Promise<NewConnection> {
  const row = await db.selectFrom('connections').selectAll().where('id', '=', id).executeTakeFirst();
  if (!row) throw new Refusal('That connection is not here any more.', 404);
  return { ...row, password: unseal(row.password) };
}

/** Tables and views of a database, those of its own schemas. */
export async function tablesOf(db: Database, id: number): Promise<{ name: string; query: string }[]> {
  return withClient(await open(db, id), async (client) => {
    const { rows } = await client.query<{ table_schema: string; table_name: string }>(
      `select table_schema, table_name from information_schema.tables where table_schema not in ('pg_catalog', 'information_schema') order by 1, 2 limit 500`,
    );
    const quoted = (text: string) => `"${text.replace(/"/g, '""')}"`;
    return rows.map((r) => ({
      name: r.table_schema === 'public' ? r.table_name : `${r.table_schema}.${r.table_name}`,
      query: `select * from ${quoted(r.table_schema)}.${quoted(r.table_name)} order by 1`,
    }));
  });
}

/** Runs a query that can only read, within a time limit, and gives its rows as text with the headings first. */
export async function readQuery(db: Database, id: number, query: string): Promise<string[][]> {
  return withClient(await open(db, id), async (client) => {
    // as a part of a larger question it can be one question only, and ask for nothing but rows
    const text = `select * from (${query.trim().replace(/;\s*$/, '')}\n) as asked limit ${mostRows + 1}`;
    // every value as the database writes it
    const raw = { getTypeParser: () => (value: string | Buffer) => String(value) };
    const result = await client.query<(string | null)[]>({
      text,
      rowMode: 'array',
      queryMode: 'extended',
      types: raw,
    } as pg.QueryArrayConfig);
    if (result.rows.length > mostRows)
      throw new IntakeError(
        `The query gives more than ${mostRows.toLocaleString('en')} rows, the most that Hand Stamp takes in one list. Ask for fewer.`,
      );
    return [result.fields.map((f) => f.name), ...result.rows.map((row) => row.map((cell) => cell ?? ''))];
  });
}

async function withClient<T>(connection: NewConnection, work: (client: pg.Client) => Promise<T>): Promise<T> {
  const client = new pg.Client({
    host: connection.host,
    port: connection.port,
    database: connection.database,
    user: connection.username,
    password: connection.password,
    connectionTimeoutMillis: 8000,
    query_timeout: timeLimit + 5000,
    options: `-c default_transaction_read_only=on -c statement_timeout=${timeLimit}`,
  });
  client.on('error', () => undefined);
  try {
    await client.connect();
    return await work(client);
  } catch (error) {
    throw inWords(error, connection);
  } finally {
    await client.end().catch(() => undefined);
  }
}

function inWords(error: unknown, { host, port, database, username }: NewConnection): Error {
  if (error instanceof IntakeError || error instanceof Refusal) return error;
  const { code, message } = error as { code?: string; message?: string };
  const known: Record<string, string> = {
    ECONNREFUSED: `Nothing answers at ${host}, port ${port}. Is the database running there?`,
    ENOTFOUND: `There is no machine called ${host}.`,
    '28P01': `The database does not take this password for ${username}.`,
    '28000': `The database does not let ${username} in from here.`,
    '3D000': `There is no database called ${database} there.`,
    '25006': 'The query would change the database; only reading is allowed.',
    '0A000': 'The query would change the database; only reading is allowed.',
    '42501': `${username} may not read that table.`,
    '42P01': 'There is no such table.',
    '57014': `The query took longer than ${timeLimit / 1000} seconds and was stopped. Ask for fewer rows or columns.`,
  };
  if (code && known[code]) return new IntakeError(known[code]);
  if (code?.startsWith('42')) return new IntakeError(`The query is not understood: ${message}.`);
  if (/timeout/i.test(message ?? '')) return new IntakeError(`${host} does not answer within 8 seconds.`);
  return new IntakeError(`The database could not be read: ${message ?? 'no reason was given'}.`);
}
