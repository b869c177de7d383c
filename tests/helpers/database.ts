import { createHash, randomBytes } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { makeWorkerUtils } from 'graphile-worker';
import pg from 'pg';
import { migrate, openDatabase, type Database } from '../../src/server/platform/db';

export interface TestDatabase {
  db: Database;
  pool: pg.Pool;
  url: string;
  close(): Promise<void>;
}

const migrations = 'src/server/platform/db/migrations';
const urlOf = (server: string, name: string): string => server.replace(/\/[^/]+$/, `/${name}`);

/**
 * A database of its own on the real server that `npm test` started: a copy of one that was migrated
 * once.
 */
export async function testDatabase(): Promise<TestDatabase> {
  const server = process.env.DATABASE_URL;
  if (!server) throw new Error('DATABASE_URL is not set; run the tests with npm test');
  const name = `t_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client(server);
  await admin.connect();
  try {
    const template = await templateDatabase(admin, server);
    await admin.query(`create database ${name} template ${template}`);
  } finally {
    await admin.end();
  }
  const url = urlOf(server, name);
  const { db, pool } = openDatabase(url);
  return { db, pool, url, close: () => db.destroy() };
}

/** Name of the migrated database that others are copied from; the first process makes it. */
async function templateDatabase(admin: pg.Client, server: string): Promise<string> {
  const hash = createHash('sha256');
  for (const file of readdirSync(migrations).sort())
    hash.update(readFileSync(`${migrations}/${file}`));
  const name = `migrated_${hash.digest('hex').slice(0, 16)}`;
  const known = async () =>
    (await admin.query('select from pg_database where datname = $1', [name])).rowCount === 1;
  if (await known()) return name;
  // several processes begin at once: one makes it, the others wait for that
  await admin.query(`select pg_advisory_lock(hashtext('migrated'))`);
  try {
    if (await known()) return name;
    const making = `${name}_${randomBytes(3).toString('hex')}`;
    await admin.query(`create database ${making}`);
    const { db, pool } = openDatabase(urlOf(server, making));
    await migrate(db);
    const utils = await makeWorkerUtils({ pgPool: pool });
    await utils.migrate();
    await utils.release();
    await db.destroy();
    await admin.query(`alter database ${making} rename to ${name}`);
    return name;
  } finally {
    await admin.query(`select pg_advisory_unlock(hashtext('migrated'))`);
  }
}
