import { Kysely, Migrator, PostgresDialect, sql } from 'kysely';
import pg from 'pg';
import { configuration } from '../configuration';
import { migrations } from './migrations';
import { oncePerProcess } from '../process';
import { openProofKeys } from '../proof-signing';
import type { Schema } from './schema';

export type Database = Kysely<Schema>;

// a reader of these documents could make the codes that they describe
openProofKeys();

// counts and record numbers stay below 2^53, so bigint comes as a number
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

export function databaseUrl(): string {
  const url = configuration().DATABASE_URL;
  if (!url)
    throw new Error('DATABASE_URL is not set. `npm run demo` sets it to a database of its own.');
  return url;
}

export interface PoolLimits {
  /** How long a statement may take, in ms. */
  statement?: number;
  /** How long one waits for a connection, in ms. */
  connecting?: number;
}

export function openDatabase(
  url: string,
  connections = 10,
  { statement, connecting }: PoolLimits = {},
): { db: Database; pool: pg.Pool } {
  const pool = new pg.Pool({
    connectionString: url,
    max: connections,
    statement_timeout: statement,
    connectionTimeoutMillis: connecting,
    // opening a connection while many ask makes them all wait, so used ones are kept for a while
    idleTimeoutMillis: 10 * 60_000,
    // a long list is sorted in memory, and no query is long enough to be compiled for
    // the pool waits for it, which its types do not say
    // oxlint-disable-next-line typescript/no-misused-promises
    onConnect: (client) => client.query(`set work_mem = '32MB'; set jit = off`),
  });
  // a dropped idle connection is replaced by the next query; without a listener it would end the
  // process
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: new Kysely<Schema>({ dialect: new PostgresDialect({ pool }) }), pool };
}

const opened = () =>
  oncePerProcess('platform.database', () =>
    openDatabase(databaseUrl(), 10, { statement: 60_000, connecting: 10_000 }),
  );

/** The web server's one pool. */
export const database = (): Database => opened().db;

/** Opens the connections of the web server's pool in advance. */
export async function warmDatabase(): Promise<void> {
  const { pool } = opened();
  const clients = await Promise.all(Array.from({ length: 10 }, () => pool.connect()));
  for (const client of clients) client.release();
}

/** A separate connection for the health check, which must not wait for anything. */
const healthDatabase = (): Database =>
  oncePerProcess('platform.health', () =>
    openDatabase(databaseUrl(), 1, { statement: 5000, connecting: 5000 }),
  ).db;

/** Asks the database for something, on that connection. @throws when it is away */
export async function checkHealth(): Promise<void> {
  await healthDatabase().selectFrom('settings').select('name').limit(1).execute();
}

/** A column is one of many numbers: one parameter however many there are. */
export const oneOf = (column: string, ids: readonly number[]) =>
  sql<boolean>`${sql.ref(column)} = any(${[...ids]}::bigint[])`;

/** A database that a later version of the program has brought further. */
export class NewerDatabase extends Error {}

/**
 * Changes of the tables that are in the database and not in this program: a later version made
 * them.
 */
async function unknownChanges(db: Database): Promise<string[]> {
  const { rows: there } = await sql<{
    t: string | null;
  }>`select to_regclass('kysely_migration')::text as t`.execute(db);
  if (!there[0]?.t) return [];
  const { rows } = await sql<{
    name: string;
  }>`select name from kysely_migration order by name`.execute(db);
  return rows.map((row) => row.name).filter((name) => !(name in migrations));
}

/**
 * Brings the tables up to date. Safe to run at every start.
 * @throws NewerDatabase where this program is older than the database
 */
export async function migrate(db: Database): Promise<string[]> {
  const unknown = await unknownChanges(db);
  if (unknown.length > 0)
    throw new NewerDatabase(
      `A later version of Hand Stamp has used this database (${unknown.join(', ')}). Start that version or a later one, or restore an earlier backup into an empty database. Nothing was changed.`,
    );
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error, results } = await migrator.migrateToLatest();
  if (error) throw error;
  return (results ?? []).filter((r) => r.status === 'Success').map((r) => r.migrationName);
}

/**
 * Whether an error means that the database is away for the moment, and not that the query is wrong.
 */
export function isAway(error: unknown): boolean {
  if (!(error instanceof Error)) return false;
  const code = 'code' in error ? String(error.code) : '';
  // classes 08 and 57P: connection lost, shutting down, starting up; 53300: no connection left
  if (/^(08|57P0|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)/.test(code)) return true;
  if (error instanceof AggregateError) return error.errors.some(isAway);
  return /Connection terminated|connection timeout|timeout exceeded when trying to connect/i.test(
    error.message,
  );
}
