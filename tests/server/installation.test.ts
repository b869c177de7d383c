import { spawn, spawnSync } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import {
  appendFileSync,
  existsSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { symmetricDecrypt, symmetricEncrypt } from 'better-auth/crypto';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, onTestFinished, test } from 'vitest';
import * as contract from '../../src/contract';
import { keepDocument } from '../../src/server/documents';
import { sealAnew } from '../../src/server/access';
import { orderSchema } from '../../src/core/orders/order';
import { makeOrder, newCallSecret } from '../../src/server/orders';
import { secretFrom } from '../../src/server/access/auth';
import { changeJob, viewJob } from '../../src/server/jobs';
import { migrate, NewerDatabase, openDatabase } from '../../src/server/platform/db';
import { checkKey } from '../../src/server/platform/key-check';
import { seal, unseal } from '../../src/server/platform/sealed';
import { testDatabase, type TestDatabase } from '../helpers/database';
import { answer } from '../../src/server/routes';
import { signedIn } from '../helpers/people';
import { runsIn, workOff } from '../helpers/runs';
import { argumentsOf } from '../helpers/programs';

/**
 * An installation that lasts: backed up, restored, given another key, watched, and shared by
 * several processes.
 */
let t: TestDatabase;
const key = 'a key for the tests of an installation';
beforeAll(async () => {
  process.env.HAND_STAMP_KEY = key;
  t = await testDatabase();
  process.env.DATABASE_URL = t.url;
});
afterAll(() => t.close());
const { job, run } = runsIn(() => t);
const work = () => workOff(t);

const script = (name: string, args: string[], env: Record<string, string>) => {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    [...(name.endsWith('.ts') ? ['--import', 'tsx'] : []), `scripts/${name}`, ...args],
    { encoding: 'utf8', env: { ...process.env, ...env } },
  );
  return { status, said: stdout + stderr };
};
/** A database to read from, whose password is sealed. */
const keepConnection = ({ db }: Pick<TestDatabase, 'db'>) =>
  db
    .insertInto('connections')
    .values({
      name: 'Records',
      host: 'db.example',
      port: 5432,
      database: 'garden',
      username: 'reader',
      password: seal('dune-grass'),
      created_by: 'test',
    })
    .execute();
/** A database of its own with nothing in it. */
async function emptyDatabase(): Promise<string> {
  const name = `e_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client(t.url);
  await admin.connect();
  await admin.query(`create database ${name}`);
  await admin.end();
  return t.url.replace(/\/[^/]+$/, `/${name}`);
}
const scratch = () => {
  const folder = mkdtempSync(join(tmpdir(), 'backup-'));
  onTestFinished(() => rmSync(folder, { recursive: true, force: true }));
  return folder;
};

test('a backup is written, restored into an empty database, and everything is the same byte for byte', async () => {
  const made = await job(
    ['No', 'Name'],
    ['key', 'name'],
    [
      ['P-1', 'Wren'],
      ['P-2', 'Σοφία'],
    ],
  );
  await run(made.id);
  await work();
  await keepDocument(t.db, 'a.html', Buffer.from('<p>For Wren</p>'), 'test');
  await signedIn(t.db, 'administrator');
  await keepConnection(t);
  const folder = scratch();
  const backup = script('backup.mjs', [`--to=${folder}`], { DATABASE_URL: t.url });
  expect(backup.said).toContain('Done:');
  const [name] = readdirSync(folder);
  const from = join(folder, name!);
  // other users of the computer can read neither the key nor the dump
  expect(statSync(from).mode & 0o077).toBe(0);
  expect(readFileSync(join(from, 'key'), 'utf8').trim()).toBe(key);
  expect(readFileSync(join(from, 'database.dump')).includes(key)).toBe(false);

  const url = await emptyDatabase();
  const restore = script('restore.mjs', [`--from=${from}`], { DATABASE_URL: url });
  expect(restore.said).toMatch(
    /All \d+ tables hold what they held, and the files are the same byte for byte/,
  );
  const { db, pool } = openDatabase(url);
  const rows = async (of: pg.Pool, table: string) => {
    const found = await of.query<{ row: string }>(
      `select md5(x::text) as row from "${table}" x order by 1`,
    );
    return found.rows.map((r) => r.row);
  };
  const tables = await pool.query<{ name: string }>(
    `select table_name as name from information_schema.tables where table_schema = 'public' and table_type = 'BASE TABLE'`,
  );
  expect(tables.rows.length).toBeGreaterThan(40);
  // short-lived data is not in a dump of PostgreSQL's
  for (const table of tables.rows.filter((r) => r.name !== 'presence'))
    expect([table.name, await rows(pool, table.name)]).toEqual([
      table.name,
      await rows(t.pool, table.name),
    ]);
  const { password } = await db
    .selectFrom('connections')
    .select('password')
    .executeTakeFirstOrThrow();
  expect(unseal(password)).toBe('dune-grass');
  // no migration is left, and the journal is still there
  expect(await migrate(db)).toEqual([]);
  await db.insertInto('journal').values({ who: 'x', what: 'y', request: 'z' }).execute();
  await expect(db.deleteFrom('journal').execute()).rejects.toThrow(/not changed/);
  await db.destroy();

  // never over existing data, and never from a damaged backup
  expect(script('restore.mjs', [`--from=${from}`], { DATABASE_URL: url })).toMatchObject({
    status: 1,
    said: expect.stringContaining('holds something already') as string,
  });
  appendFileSync(join(from, 'database.dump'), 'x');
  expect(
    script('restore.mjs', [`--from=${from}`], { DATABASE_URL: await emptyDatabase() }),
  ).toMatchObject({ status: 1, said: expect.stringContaining('damaged') as string });
});

test('another key: all that is sealed opens with it and no longer with the one before; what does not open changes nothing', async () => {
  const own = await testDatabase();
  onTestFinished(() => own.close());
  const { db } = own;
  const next = 'quite another key for this';
  const mine = runsIn(() => own);
  const made = await mine.job(['No'], ['key'], [['P-1']]);
  const { version, document } = await viewJob(db, made.id);
  await changeJob(
    db,
    made.id,
    {
      version,
      document: {
        ...document,
        stamps: [
          {
            ...document.stamps[0]!,
            does: 'genuine',
            proofKey: 'new',
            fields: { signed: [{ kind: 'column', column: 'c1' }] },
          },
        ],
      },
    },
    'test',
  );
  const person = await signedIn(db, 'viewer');
  const secret = await symmetricEncrypt({ key: secretFrom(key), data: 'JBSWY3DPEHPK3PXP' });
  await own.pool.query(
    `insert into second_factors (id, secret, backup_codes, person_id) values ('s', $1, $1, $2)`,
    [secret, person.id],
  );
  const connection = (password: string) =>
    db
      .insertInto('connections')
      .values({
        name: 'R',
        host: 'h',
        port: 1,
        database: 'd',
        username: 'u',
        password,
        created_by: 'test',
      })
      .execute();
  await connection(seal('dune-grass'));
  await db
    .insertInto('settings')
    .values({ name: 'mail.password', value: seal('salt-meadow') })
    .execute();
  const proofKey = async () =>
    (await viewJob(db, made.id)).document.stamps[0]!.proofKey!.slice('sealed:'.length);
  const order = await makeOrder(
    db,
    {
      name: 'Tell the vault',
      document: orderSchema.parse({
        when: { kind: 'call' },
        conditions: { all: true, list: [] },
        steps: [
          {
            kind: 'call',
            id: 'a',
            to: [{ kind: 'text', text: 'https://vault.example/' }],
            headers: [{ name: 'X-Key', value: 'tide-table', secret: true }],
          },
        ],
      }),
    },
    'test',
  );
  const called = await newCallSecret(db, order);
  const before = unseal(await proofKey());
  expect(await sealAnew(db, key, next)).toBeGreaterThanOrEqual(9);
  const password = async () =>
    (await db.selectFrom('connections').select('password').executeTakeFirstOrThrow()).password;
  const sealedNow = await password();
  expect(() => unseal(sealedNow)).toThrow();
  process.env.HAND_STAMP_KEY = next;
  try {
    expect(unseal(sealedNow)).toBe('dune-grass');
    expect(unseal(await proofKey())).toBe(before);
    const kept = await db
      .selectFrom('standing_orders')
      .select(['secret', 'document'])
      .executeTakeFirstOrThrow();
    expect(unseal(kept.secret!)).toBe(called);
    const [step] = kept.document.steps;
    expect(step?.kind === 'call' && unseal(step.headers[0]!.value.slice('sealed:'.length))).toBe(
      'tide-table',
    );
    const second = await own.pool.query<{ secret: string }>('select secret from second_factors');
    expect(await symmetricDecrypt({ key: secretFrom(next), data: second.rows[0]!.secret })).toBe(
      'JBSWY3DPEHPK3PXP',
    );
    // one value that opens with neither: all stays as it is
    await connection('bm90IHNlYWxlZCBieSBhbnkga2V5IG9mIG91cnMgYXQgYWxs');
    await expect(sealAnew(db, next, key)).rejects.toThrow();
    expect(await password()).toBe(sealedNow);
  } finally {
    process.env.HAND_STAMP_KEY = key;
  }
  expect(await db.selectFrom('sessions').select('id').execute()).toEqual([]);
});

test('a key that is not the one of the database is told by start, backup, restore and new key, and does nothing', async () => {
  const own = await testDatabase();
  onTestFinished(() => own.close());
  // as one from before there was a check: the first sealed text says whose key it is
  await keepConnection(own);
  const other = 'another key of many letters';
  const wrong = { DATABASE_URL: own.url, HAND_STAMP_KEY: other };
  const start = (env: Record<string, string>) =>
    script('start.ts', ['--no-demo', '--no-web', '--purpose=keys', '--port=45124'], env);
  const folder = scratch();
  const backup = (env: Record<string, string>) => script('backup.mjs', [`--to=${folder}`], env);
  for (const round of ['without a check', 'with one']) {
    for (const [what, said] of [
      ['start', start(wrong)],
      ['backup', backup(wrong)],
      ['new key', script('new-key.ts', [], { ...wrong, HAND_STAMP_NEW_KEY: key })],
    ] as const)
      expect([round, what, said]).toMatchObject([
        round,
        what,
        { status: 1, said: expect.stringMatching(/is not the (key|one)/) as string },
      ]);
    await checkKey(own.db);
  }
  expect(readdirSync(folder)).toEqual([]);
  // without a key, if the database has one: no new key is created
  expect(start({ DATABASE_URL: own.url, HAND_STAMP_KEY: '' })).toMatchObject({ status: 1 });
  const { stateFolder } = (await import('../../scripts/lib-postgres.mjs' as string)) as {
    stateFolder(purpose: string): string;
  };
  expect(existsSync(join(stateFolder('keys'), 'key'))).toBe(false);
  expect(start({ ...wrong, HAND_STAMP_KEY: 'a' }).said).toContain('16 characters at least');

  const good = backup({ DATABASE_URL: own.url });
  expect(good.said).toContain('Done:');
  const from = join(folder, readdirSync(folder)[0]!);
  writeFileSync(join(from, 'key'), other);
  const restored = script('restore.mjs', [`--from=${from}`], {
    DATABASE_URL: await emptyDatabase(),
  });
  expect(restored).toMatchObject({
    status: 1,
    said: expect.stringContaining('does not open what is sealed') as string,
  });
}, 120_000);

test('a program older than its database does not start on it, and says why in a line', async () => {
  const url = await emptyDatabase();
  const { db, pool } = openDatabase(url);
  await migrate(db);
  await pool.query(
    `insert into kysely_migration (name, timestamp) values ('9001-of-a-later-version', now()::text)`,
  );
  await expect(migrate(db)).rejects.toBeInstanceOf(NewerDatabase);
  await db.destroy();
  const started = script('start.ts', ['--no-demo', '--no-web', '--purpose=newer', '--port=45123'], {
    DATABASE_URL: url,
  });
  expect(started.status).toBe(1);
  expect(started.said).toContain(
    'A later version of Hand Stamp has used this database (9001-of-a-later-version)',
  );
  expect(started.said).not.toMatch(/^ +at /m);
});

describe('who is taken for the demo’s coordinator', () => {
  const me = async (headers: Record<string, string>) => {
    const given = await answer(
      new Request('http://localhost/api/me', { headers: { host: 'localhost:3000', ...headers } }),
    );
    return given.status;
  };
  const become = async (person: string, headers: Record<string, string> = {}) => {
    const given = await answer(
      new Request('http://localhost/api/me/become', {
        method: 'POST',
        body: JSON.stringify({ person }),
        headers: { host: 'localhost:3000', 'content-type': 'application/json', ...headers },
      }),
    );
    return given.status;
  };
  test('is a visitor of this machine, of a demo, as one of its made-up people, and nobody else', async () => {
    const keeper = await signedIn(t.db, 'administrator');
    const mark = (value: string) =>
      t.db
        .insertInto('settings')
        .values({ name: 'demo', value })
        .onConflict((c) => c.column('name').doUpdateSet({ value }))
        .execute();
    expect(await me({})).toBe(401);
    process.env.HAND_STAMP_VISITOR = keeper.email;
    onTestFinished(() => void delete process.env.HAND_STAMP_VISITOR);
    // a real installation has no demo, and nobody can become a demo person
    expect(await me({})).toBe(401);
    await mark('loaded');
    expect(await me({})).toBe(401);
    expect(await become(keeper.id)).toBe(404);
    await t.db.updateTable('people').set({ stand_in: true }).where('id', '=', keeper.id).execute();
    expect(await me({})).toBe(200);
    expect(await become(keeper.id)).toBe(200);
    const elsewhere: Record<string, string>[] = [
      { 'x-forwarded-for': '10.0.0.7' },
      { 'x-forwarded-for': '127.0.0.1, 10.0.0.7' },
      { forwarded: 'for=10.0.0.7' },
      { cookie: 'hand-stamp.out=yes' },
    ];
    for (const from of elsewhere) {
      expect([from, await me(from)]).toEqual([from, 401]);
      if (!('cookie' in from)) expect(await become(keeper.id, from)).toBe(404);
    }
    process.env.HAND_STAMP_HOSTS = 'stamp.example';
    onTestFinished(() => void delete process.env.HAND_STAMP_HOSTS);
    expect(await me({ host: 'stamp.example' })).toBe(401);
    // a session that was ended is out; a cookie of another installation says nothing
    await t.db.deleteFrom('sessions').execute();
    expect(await me({ cookie: keeper.cookie })).toBe(401);
    expect(await me({ cookie: 'hand-stamp.session_token=abc.def%3D' })).toBe(200);
    await mark('no');
    expect(await me({})).toBe(401);
  });
  test('is never had by a real start', () => {
    const { status, said } = script(
      'start.ts',
      ['--no-demo', '--no-web', '--purpose=visitor', '--port=45124'],
      { HAND_STAMP_VISITOR: 'ines@marrambay.example', DATABASE_URL: t.url },
    );
    expect(status).toBe(1);
    expect(said).toContain('HAND_STAMP_VISITOR lets whoever is at this machine in');
  });
});

test('metrics are given to keepers, and to a program with the word that is set', async () => {
  const keeper = await signedIn(t.db, 'administrator');
  const looker = await signedIn(t.db, 'viewer');
  const asks = (headers: Record<string, string>) =>
    answer(
      new Request('http://localhost/api/metrics', { headers: { host: 'localhost', ...headers } }),
    );
  const word = 'a word for the program that reads them';
  expect((await asks({ cookie: looker.cookie })).status).toBe(403);
  expect((await asks({ authorization: `Bearer ${word}` })).status).toBe(401);
  process.env.HAND_STAMP_METRICS_KEY = word.replaceAll(' ', '-');
  onTestFinished(() => void delete process.env.HAND_STAMP_METRICS_KEY);
  expect((await asks({ authorization: 'Bearer ' })).status).toBe(401);
  expect((await asks({ authorization: 'Bearer not-this-one-at-all' })).status).toBe(401);
  expect((await asks({ authorization: `Bearer ${word.replaceAll(' ', '-')}` })).status).toBe(200);
  const given = await asks({ cookie: keeper.cookie });
  expect(given.headers.get('content-type')).toBe('text/plain; version=0.0.4; charset=utf-8');
  const lines = (await given.text()).split('\n').filter((line) => line && !line.startsWith('#'));
  for (const line of lines) expect(line).toMatch(/^[a-z_]+(\{[^}]*\})? -?[\d.e+-]+$/);
  const value = (name: string) =>
    Number(lines.find((line) => line.startsWith(`${name} `))!.split(' ')[1]);
  expect(value('hand_stamp_codes_read')).toBeGreaterThan(0);
  expect(value('hand_stamp_sessions')).toBeGreaterThan(1);
  expect(
    lines.some((line) => line.startsWith('hand_stamp_answer_seconds_count{route="/api/metrics"')),
  ).toBe(true);
  expect(contract.viewMetrics.right).toBe('administrator');
});

test('the In-tray has one holder; when it is killed the next takes over within ten seconds, and what is saved then is read', async () => {
  const tray = scratch();
  writeFileSync(join(tray, 'beds.csv'), 'Bed,Plant\nB1,Thrift\n');
  const start = () => {
    const child = spawn(
      process.execPath,
      ['--expose-gc', ...argumentsOf('src/server/tasks/worker')],
      {
        env: {
          ...process.env,
          DATABASE_URL: t.url,
          HAND_STAMP_TRAY: tray,
          HAND_STAMP_WATCHES: 'yes',
          LOG_LEVEL: 'info',
        },
        stdio: ['ignore', 'pipe', 'inherit'],
      },
    );
    let said = '';
    child.stdout.on('data', (data: Buffer) => (said += data.toString()));
    onTestFinished(() => void child.kill('SIGKILL'));
    return { child, said: () => said };
  };
  const holder = async () => {
    const { rows } = await t.pool.query<{ pid: number }>(
      `select pid from pg_locks where locktype = 'advisory' and classid = 7202 and granted`,
    );
    return rows.map((row) => row.pid);
  };
  const made = await job(['Bed', 'Plant'], ['key', 'text'], [['B1', 'Thrift']]);
  await t.db
    .updateTable('lists')
    .set({ origin: JSON.stringify({ kind: 'tray', name: 'beds.csv', headerRow: 0, takes: true }) })
    .where('id', '=', made.list)
    .execute();
  const long = { timeout: 30_000 };
  const first = start();
  await expect.poll(first.said, long).toContain('worker ready');
  expect(await holder()).toHaveLength(1);
  const [held] = await holder();
  const second = start();
  await expect.poll(second.said, long).toContain('worker ready');
  expect(await holder()).toEqual([held]);
  const killed = Date.now();
  first.child.kill('SIGKILL');
  await expect.poll(holder, long).not.toContain(held);
  await expect.poll(second.said, long).toContain('took the In-tray over');
  expect(Date.now() - killed).toBeLessThan(10_000);
  writeFileSync(join(tray, 'beds.csv'), 'Bed,Plant\nB1,Thrift\nB2,Samphire\n');
  const plants = async () => {
    const rows = await t.db
      .selectFrom('records')
      .select('values')
      .where('list_id', '=', made.list)
      .orderBy('position')
      .execute();
    return rows.map((r) => r.values.c2);
  };
  await expect.poll(plants, long).toEqual(['Thrift', 'Samphire']);
});
