import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { NewConnection } from '../../../src/contract';
import { keepConnection, readQuery } from '../../../src/server/sources/connections';
import { writeSettings } from '../../../src/server/platform/settings';
import { testDatabase, type TestDatabase } from '../../helpers/database';

/**
 * Another PostgreSQL server, which offers encrypted connections with a certificate of its own for
 * the name localhost.
 */
interface Postgres {
  startPostgres(
    purpose: string,
    options: { fresh: boolean },
  ): Promise<{ url: string; stop(): void }>;
  stateFolder(purpose: string): string;
}
let t: TestDatabase;
let other: { url: string; stop(): void };
let reached: NewConnection;
const folder = mkdtempSync(join(tmpdir(), 'certificate-'));
const certificate = join(folder, 'server.crt');

beforeAll(async () => {
  process.env.HAND_STAMP_KEY ??= 'a key for tests only';
  t = await testDatabase();
  await writeSettings(t.db, { doorPrivate: true, kept: {} });
  const { startPostgres, stateFolder } = (await import(
    '../../../scripts/lib-postgres.mjs' as string
  )) as Postgres;
  other = await startPostgres('encrypted', { fresh: true });
  // prettier-ignore
  execFileSync('openssl', ['req', '-x509', '-newkey', 'rsa:2048', '-nodes', '-days', '2', '-subj', '/CN=localhost',
    '-addext', 'subjectAltName=DNS:localhost', '-keyout', join(folder, 'server.key'), '-out', certificate], { stdio: 'ignore' });
  const data = join(stateFolder('encrypted'), 'data');
  for (const name of ['server.crt', 'server.key']) {
    execFileSync('cp', [join(folder, name), data]);
    execFileSync('chown', ['--reference', data, join(data, name)]);
    execFileSync('chmod', ['600', join(data, name)]);
  }
  const client = new pg.Client(other.url);
  await client.connect();
  await client.query('alter system set ssl = on');
  await client.query('select pg_reload_conf()');
  await client.query(`create role reads login password 'reads'`);
  await client.query(`create table members as select 'MB-1' as no, 'Wren' as name`);
  await client.query('grant select on members to reads');
  const { port } = new URL(other.url);
  await client.end();
  reached = {
    name: 'Members',
    host: 'localhost',
    port: Number(port),
    database: 'postgres',
    username: 'reads',
    password: 'reads',
    tls: 'yes',
  };
}, 120_000);
afterAll(async () => {
  other?.stop();
  rmSync(folder, { recursive: true, force: true });
  await t.close();
});

test('a certificate that nobody vouches for is refused, unless it is said not to be checked', async () => {
  await expect(keepConnection(t.db, reached, 'test')).rejects.toThrow(
    /certificate of the database could not be checked/,
  );
  const id = await keepConnection(t.db, { ...reached, tls: 'unchecked' }, 'test');
  expect(await readQuery(t.db, id, 'select * from members')).toEqual([
    ['no', 'name'],
    ['MB-1', 'Wren'],
  ]);
  expect(
    await readQuery(t.db, id, 'select ssl from pg_stat_ssl where pid = pg_backend_pid()'),
  ).toEqual([['ssl'], ['t']]);
});

/** Authorities that are trusted are read when a process starts. */
function kept(wanted: NewConnection): string {
  const script = `
    import { openDatabase } from './src/server/platform/db/index.ts';
    import { keepConnection } from './src/server/sources/connections.ts';
    const { db } = openDatabase(${JSON.stringify(t.url)}, 2);
    console.log(await keepConnection(db, ${JSON.stringify(wanted)}, 'test').then((id) => 'kept ' + id, (e) => e.message));
    await db.destroy();`;
  return execFileSync(process.execPath, ['--import', 'tsx', '--input-type=module', '-e', script], {
    env: { ...process.env, NODE_EXTRA_CA_CERTS: certificate },
    encoding: 'utf8',
  });
}

test('a certificate that is vouched for is taken, for its own name only', () => {
  expect(kept(reached)).toMatch(/^kept \d+/);
  expect(kept({ ...reached, host: '127.0.0.1' })).toMatch(
    /certificate of the database could not be checked/,
  );
});
