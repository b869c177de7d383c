import { randomBytes } from 'node:crypto';
import { makeWorkerUtils } from 'graphile-worker';
import pg from 'pg';
import { migrate, openDatabase, type Database } from '../../src/server/platform/db';

export interface TestDatabase {
  db: Database;
  pool: pg.Pool;
  url: string;
  close(): Promise<void>;
}

/** A database of its own on the real server that `npm test` started. */
export async function testDatabase(): Promise<TestDatabase> {
  const server = process.env.DATABASE_URL;
  if (!server) throw new Error('DATABASE_URL is not set; run the tests with npm test');
  const name = `t_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client(server);
  await admin.connect();
  await admin.query(`create database ${name}`);
  await admin.end();
  const url = server.replace(/\/[^/]+$/, `/${name}`);
  const { db, pool } = openDatabase(url);
  await migrate(db);
  const utils = await makeWorkerUtils({ pgPool: pool });
  await utils.migrate();
  await utils.release();
  return { db, pool, url, close: () => db.destroy() };
}
