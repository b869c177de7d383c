import { Kysely, Migrator, PostgresDialect, sql } from 'kysely';
import pg from 'pg';
import { migrations } from './migrations';
import type { Schema } from './schema';

export type Database = Kysely<Schema>;

// counts and record numbers stay below 2^53, so bigint comes as a number
pg.types.setTypeParser(pg.types.builtins.INT8, Number);

export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set; `npm run demo` sets it to a database of its own.');
  return url;
}

export function openDatabase(url: string, connections = 10): { db: Database; pool: pg.Pool } {
  const pool = new pg.Pool({ connectionString: url, max: connections });
  // a dropped idle connection is replaced by the next query; without a listener it would end the process
  pool.on('error', () => undefined);
  pool.on('connect', (client) => client.on('error', () => undefined));
  return { db: new Kysely<Schema>({ dialect: new PostgresDialect({ pool }) }), pool };
}

const shared = globalThis as typeof globalThis & { handStampDatabase?: ReturnType<typeof openDatabase> };

/** The web server's one pool; kept over reloads of the development server. */
export function database(): Database {
  shared.handStampDatabase ??= openDatabase(databaseUrl());
  return shared.handStampDatabase.db;
}

/** A column is one of many numbers: one parameter however many there are. */
export const oneOf = (column: string, ids: readonly number[]) => sql<boolean>`${sql.ref(column)} = any(${[...ids]}::bigint[])`;

/** The pool behind `database()`, for the queue. */
export function databasePool(): pg.Pool {
  database();
  return shared.handStampDatabase!.pool;
}

/** Brings the tables up to date. Safe to run at every start. */
export async function migrate(db: Database): Promise<string[]> {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  const { error, results } = await migrator.migrateToLatest();
  if (error) throw error;
  return (results ?? []).filter((r) => r.status === 'Success').map((r) => r.migrationName);
}
