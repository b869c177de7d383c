import { type NewConnection, connectionSchema } from '../../contract';
import { lookup } from 'node:dns/promises';
import { isIP } from 'node:net';
import { sql } from 'kysely';
import pg from 'pg';
import { isPublicAddress } from '../../core/payload/public-address';
import { askOptions, type Database, IntakeError, Refusal, seal, unseal } from '../platform';
import { mostRows } from './files/book';

/** Longest that a query may take, in ms. */
const timeLimit = 30_000;

export async function listConnections(db: Database) {
  return db
    .selectFrom('connections')
    .select(['id', 'name', 'host', 'port', 'database', 'username'])
    .orderBy('name')
    .execute();
}

/** Keeps a connection once it has been tried. */
export async function keepConnection(
  db: Database,
  wanted: NewConnection,
  actor: string,
): Promise<number> {
  await withClient(db, wanted, (client) => client.query('select 1'));
  const { id } = await db
    .insertInto('connections')
    .values({ ...wanted, password: seal(wanted.password), created_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

async function open(db: Database, id: number): Promise<NewConnection> {
  const row = await db
    .selectFrom('connections')
    .selectAll()
    .where('id', '=', id)
    .executeTakeFirst();
  if (!row) throw new Refusal('This connection no longer exists. It may have been removed.', 404);
  return { ...row, tls: connectionSchema.shape.tls.parse(row.tls), password: unseal(row.password) };
}

/** Tables and views of a database, in its own schemas. */
export async function tablesOf(
  db: Database,
  id: number,
): Promise<{ name: string; query: string }[]> {
  return withClient(db, await open(db, id), async (client) => {
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

/** Most bytes of rows that a query may give. */
const mostBytes = 100 * 2 ** 20;
const atATime = 2000;

/**
 * Runs a query that can only read, within a time limit, and gives its rows as text with the
 * headings first.
 * @throws IntakeError when it does not only read, gives too much, or takes too long
 */
export async function readQuery(db: Database, id: number, query: string): Promise<string[][]> {
  return withClient(db, await open(db, id), async (client) => {
    await onlyReads(client, query);
    // every value as the database writes it
    const raw = { getTypeParser: () => (value: string | Buffer) => String(value) };
    const ask = (text: string) =>
      client.query<(string | null)[]>({
        text,
        rowMode: 'array',
        queryMode: 'extended',
        types: raw,
      } as pg.QueryArrayConfig);
    await client.query('begin transaction read only');
    // as a subquery it can be one query only, and return nothing but rows
    await ask(
      `declare asked no scroll cursor for select * from (${query.trim().replace(/;\s*$/, '')}\n) as asked`,
    );
    const rows: string[][] = [];
    let headings: string[] = [];
    for (let bytes = 0; ;) {
      const part = await ask(`fetch ${atATime} from asked`);
      headings = part.fields.map((f) => f.name);
      for (const row of part.rows) {
        const cells = row.map((cell) => cell ?? '');
        for (const cell of cells) bytes += cell.length;
        rows.push(cells);
      }
      if (rows.length > mostRows)
        throw new IntakeError(
          `The query gives more than ${mostRows.toLocaleString('en')} rows, the most in one list. Choose fewer.`,
        );
      if (bytes > mostBytes)
        throw new IntakeError(
          `The query gives more than ${mostBytes / 2 ** 20} MB. Choose only the columns that a code or label needs.`,
        );
      if (part.rows.length < atATime) break;
    }
    // the rollback removes whatever it did beside reading
    await client.query('rollback');
    return [headings, ...rows];
  });
}

/** Functions that change nothing and only return something else each time. */
const harmless = new Set([
  'random',
  'clock_timestamp',
  'timeofday',
  'gen_random_uuid',
  'statement_timestamp',
]);

/**
 * A read-only transaction can still lock, notify, write large objects, read the server's files or
 * wait, by functions that PostgreSQL calls volatile. A query that names one is refused.
 */
async function onlyReads(client: pg.Client, query: string): Promise<void> {
  // names with escapes in them could be any
  if (/\bu&"/i.test(query))
    throw new IntakeError(
      'Names with escaped characters (U&"…") are not allowed in a query. Write them out.',
    );
  const { rows } = await client.query<{ name: string }>(
    `select distinct p.proname as name from pg_catalog.pg_proc p
     left join pg_catalog.pg_depend d on d.classid = 'pg_proc'::regclass and d.objid = p.oid and d.deptype = 'e'
     where p.provolatile = 'v' and (p.pronamespace = 'pg_catalog'::regnamespace or d.objid is not null)`,
  );
  const volatile = new Set(rows.map((row) => row.name).filter((name) => !harmless.has(name)));
  for (const [, quoted, plain] of query.matchAll(/"((?:[^"]|"")*)"|([a-z_][\w$]*)/gi)) {
    const name = quoted?.replaceAll('""', '"') ?? plain!.toLowerCase();
    if (
      volatile.has(name) &&
      new RegExp(`${name.replace(/[^\w]/g, '\\$&')}"?\\s*\\(`, 'i').test(
        query.replace(/\/\*[\s\S]*?\*\/|--[^\n]*/g, ' '),
      )
    )
      throw new IntakeError(
        `The query calls ${name}, which can do more than read. Only reading is allowed.`,
      );
  }
}

/**
 * In Settings: hosts with their databases that stand in for others, and may be read although they
 * are private.
 */
export const standInSetting = 'database.stand-ins';

/** Says that a database may not be read from here, and why. */
class NotAllowed extends IntakeError {}

/**
 * The address to connect to, checked as the door check does: a machine of our own network only
 * where Settings say so. The address and not the name is connected to, so that it cannot change in
 * between.
 */
async function allowedAddress(
  db: Database,
  { host, database }: NewConnection,
): Promise<{ ip: string; standIn: boolean }> {
  const found = await lookup(host, { all: true });
  const ip = found[0]!.address;
  const { value } =
    (await db
      .selectFrom('settings')
      .select('value')
      .where('name', '=', standInSetting)
      .executeTakeFirst()) ?? {};
  const standIn = ((value ? JSON.parse(value) : []) as string[]).includes(`${host}/${database}`);
  const { privateToo } = await askOptions(db);
  if (!standIn && !privateToo && found.some((a) => !isPublicAddress(a.address)))
    throw new NotAllowed(
      `${host} is a server in your own network, and Settings allow only public servers. Allow it in Settings under “Which servers Hand Stamp may contact” first.`,
    );
  return { ip, standIn };
}

/** Refuses our own server, and users who may do everything. */
async function checkWhom(
  db: Database,
  client: pg.Client,
  username: string,
  standIn: boolean,
): Promise<void> {
  const { rows } = await client.query<{ all: string; started: string }>(
    `select current_setting('is_superuser') as all, pg_postmaster_start_time()::text || inet_server_port() as started`,
  );
  if (rows[0]!.all === 'on')
    throw new NotAllowed(
      `${username} may change everything in that database. Use a user that may only read.`,
    );
  if (standIn) return;
  const own = await sql<{
    started: string;
  }>`select pg_postmaster_start_time()::text || inet_server_port() as started`.execute(db);
  if (own.rows[0]!.started === rows[0]!.started)
    throw new NotAllowed(
      'This is the server in which Hand Stamp stores its own records. Choose another server.',
    );
}

async function withClient<T>(
  db: Database,
  connection: NewConnection,
  work: (client: pg.Client) => Promise<T>,
): Promise<T> {
  let client: pg.Client | undefined;
  try {
    const { ip, standIn } = await allowedAddress(db, connection);
    client = new pg.Client({
      host: ip,
      port: connection.port,
      database: connection.database,
      user: connection.username,
      password: connection.password,
      connectionTimeoutMillis: 8000,
      query_timeout: timeLimit + 5000,
      options: `-c default_transaction_read_only=on -c statement_timeout=${timeLimit} -c lock_timeout=${timeLimit}`,
      ssl:
        connection.tls === 'no'
          ? false
          : {
              servername: isIP(connection.host) ? undefined : connection.host,
              rejectUnauthorized: connection.tls === 'yes',
            },
    });
    client.on('error', () => undefined);
    await client.connect();
    await checkWhom(db, client, connection.username, standIn);
    return await work(client);
  } catch (error) {
    throw inWords(error, connection);
  } finally {
    await client?.end().catch(() => undefined);
  }
}

function inWords(error: unknown, { host, port, database, username }: NewConnection): Error {
  if (error instanceof IntakeError || error instanceof Refusal) return error;
  const { code, message } = error as { code?: string; message?: string };
  const silent = `No database answers at ${host}, port ${port}. Check the name and the port, and whether this server can reach it.`;
  const known: Record<string, string> = {
    '28P01': `The database refuses the password of ${username}. Check it.`,
    '28000': `The database does not let ${username} in from here. Ask the administrator of the database.`,
    '3D000': `There is no database called ${database} there. Check the name.`,
    '25006': 'The query would change the database. Only reading is allowed.',
    '0A000': 'The query would change the database. Only reading is allowed.',
    '42501': `${username} may not read that table. Ask the administrator of the database.`,
    '42P01': 'This table does not exist. Check the name.',
    '57014': `The query took longer than ${timeLimit / 1000} seconds and was stopped. Choose fewer rows or columns.`,
  };
  if (code && known[code]) return new IntakeError(known[code]);
  if (code?.startsWith('42'))
    return new IntakeError(`The query has an error: ${message}. Correct it and try again.`);
  if (/does not support SSL/i.test(message ?? ''))
    return new IntakeError(
      'The database offers no encryption. Ask its administrator, or choose “not encrypted”.',
    );
  if (/certificate|self[- ]signed/i.test(message ?? '') || /CERT|SELF_SIGNED/.test(code ?? ''))
    return new IntakeError(
      'The certificate of the database could not be checked. Ask its administrator, or choose “its certificate not checked”.',
    );
  // closed, silent, refusing and unknown hosts get the same answer, so that nobody learns about the
  // network
  if (
    /^(ECONN|ENOTFOUND|EAI_|EHOST|ENET|ETIMEDOUT|EPIPE|ERR_SOCKET)/.test(code ?? '') ||
    /timeout|terminated/i.test(message ?? '')
  )
    return new IntakeError(silent);
  return new IntakeError(`The database could not be read: ${message ?? 'no reason was given'}.`);
}

export async function forgetConnection(db: Database, id: number): Promise<void> {
  await db.deleteFrom('connections').where('id', '=', id).execute();
}
