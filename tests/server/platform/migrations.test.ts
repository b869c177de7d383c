import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { makeWorkerUtils } from 'graphile-worker';
import { Migrator, sql } from 'kysely';
import pg from 'pg';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { readJob } from '../../../src/core/job/document';
import { firstStamp } from '../../../src/core/payload/stamp';
import { firstPiece } from '../../../src/core/piece/starters';
import { stocks } from '../../../src/core/piece/stock';
import { defaultRunOptions } from '../../../src/core/run/plan';
import { ledgerRows, viewJob } from '../../../src/server/jobs';
import { rejudgeList } from '../../../src/server/judging';
import { listRuns, runAgain } from '../../../src/server/runs';
import { workOff } from '../../helpers/runs';
import { migrate, openDatabase, type Database } from '../../../src/server/platform/db';
import { migrations } from '../../../src/server/platform/db/migrations';

let db: Database;
beforeAll(async () => {
  const name = `m_${randomBytes(6).toString('hex')}`;
  const admin = new pg.Client(process.env.DATABASE_URL);
  await admin.connect();
  await admin.query(`create database ${name}`);
  await admin.end();
  ({ db } = openDatabase(process.env.DATABASE_URL!.replace(/\/[^/]+$/, `/${name}`)));
});
afterAll(() => db.destroy());

test('stamps move from the jobs to their list; those that differ under one number get their own, and pieces follow', async () => {
  const migrator = new Migrator({ db, provider: { getMigrations: async () => migrations } });
  expect((await migrator.migrateTo('0001-first')).error).toBeUndefined();
  const columns = [
    { id: 'c1', name: 'No', role: 'key' as const },
    { id: 'w2', name: 'Tag', role: 'text' as const },
  ];
  await sql`insert into lists (name, columns, source, created_by) values ('L', ${JSON.stringify(columns)}, 'l.csv', 'test')`.execute(
    db,
  );
  const stamp = firstStamp(columns);
  const document = (name: string) => {
    const own = { ...stamp, name };
    return JSON.stringify({
      stamps: [own],
      piece: firstPiece(stocks[0]!, own, columns),
      options: defaultRunOptions,
    });
  };
  for (const name of ['Door', 'Till', 'Door'])
    await sql`insert into jobs (name, list_id, document, created_by) values (${name}, 1, ${document(name)}::jsonb, 'test')`.execute(
      db,
    );
  await migrate(db);
  const list = await db
    .selectFrom('lists')
    .select(['stamps', 'next_column'])
    .executeTakeFirstOrThrow();
  expect(list.stamps.map((s) => [s.id, s.name])).toEqual([
    ['stamp-1', 'Door'],
    ['stamp-2', 'Till'],
  ]);
  expect(list.next_column).toBe(3);
  const jobs = await db.selectFrom('jobs').select('document').orderBy('id').execute();
  expect(
    jobs.map(({ document }) =>
      readJob(document).piece.elements.flatMap((e) => (e.kind === 'stamp' ? [e.stamp] : [])),
    ),
  ).toEqual([['stamp-1'], ['stamp-2'], ['stamp-1']]);
  expect(jobs.every(({ document: d }) => !('stamps' in d))).toBe(true);
  // a second start changes nothing
  expect(await migrate(db)).toEqual([]);
});

test('the demo’s printers that an earlier version put into every installation go, but for those that are used', async () => {
  const name = `m_${randomBytes(6).toString('hex')}`;
  await sql`create database ${sql.raw(name)}`.execute(db);
  const { db: own } = openDatabase(process.env.DATABASE_URL!.replace(/\/[^/]+$/, `/${name}`));
  const migrator = new Migrator({ db: own, provider: { getMigrations: async () => migrations } });
  expect((await migrator.migrateTo('0012-retention')).error).toBeUndefined();
  const names = async () =>
    (await own.selectFrom('printers').select('name').orderBy('id').execute()).map((p) => p.name);
  expect(await names()).toEqual(['Stand-in for office paper', 'Stand-in for labels']);
  await own.updateTable('printers').set({ offset_x: 2 }).where('dpi', '=', 300).execute();
  await migrate(own);
  expect(await names()).toEqual(['Stand-in for labels']);
  await own.destroy();
});

test('a database that the first version filled is brought up to now with all that was in it, and goes on', async () => {
  const name = `m_${randomBytes(6).toString('hex')}`;
  await sql`create database ${sql.raw(name)}`.execute(db);
  const url = process.env.DATABASE_URL!.replace(/\/[^/]+$/, `/${name}`);
  const { db: own, pool } = openDatabase(url);
  // as PostgreSQL wrote it then, without what is for its own shell
  const dump = readFileSync('tests/fixtures/first-version.sql', 'utf8').replace(/^\\.*$/gm, '');
  await pool.query('drop schema public cascade');
  await pool.query(dump);
  await pool.query('reset all');
  const before = await pool.query<{ md5: string }>(
    'select md5(bytes) from file_pieces order by file_id, number',
  );
  const brought = await migrate(own);
  expect(brought).toHaveLength(Object.keys(migrations).length - 1);
  expect(await migrate(own)).toEqual([]);
  const utils = await makeWorkerUtils({ pgPool: pool });
  await utils.migrate();
  await utils.release();
  await rejudgeList(own, 1);
  const job = await viewJob(own, 1);
  expect([job.name, job.list.name, job.counts.all]).toEqual(['Badges', 'Volunteers', 3]);
  expect(job.document.stamps).toHaveLength(1);
  const { rows } = await ledgerRows(own, 1, {
    filter: 'all',
    q: '',
    where: [],
    offset: 0,
    limit: 50,
  });
  expect(rows.map((r) => [r.values.c1, r.values.c2])).toEqual([
    ['DH-0001', 'Ines Okafor-Lindqvist'],
    ['DH-0002', 'Σοφία Καρρά'],
    ['', 'Odalys Penhallow'],
  ]);
  const [first] = await listRuns(own, 1);
  expect([first!.name, first!.state, first!.read]).toEqual(['First print', 'done', first!.codes]);
  const after = await pool.query<{ md5: string }>(
    'select md5(bytes) from file_pieces order by file_id, number',
  );
  expect(after.rows).toEqual(before.rows);
  // and what was made then is made again now
  const again = await runAgain(own, first!.id, 'test');
  await workOff({ db: own, pool });
  const made = (await listRuns(own, 1)).find((run) => run.id === again)!;
  expect([made.state, made.pieces, made.read]).toEqual(['done', first!.pieces, first!.codes]);
  await own.destroy();
});

test('people, invitations and shares keep their roles under the new names', async () => {
  const name = `m_${randomBytes(6).toString('hex')}`;
  await sql`create database ${sql.raw(name)}`.execute(db);
  const { db: own } = openDatabase(process.env.DATABASE_URL!.replace(/\/[^/]+$/, `/${name}`));
  const migrator = new Migrator({ db: own, provider: { getMigrations: async () => migrations } });
  expect((await migrator.migrateTo('0037-doors-and-stuck-work')).error).toBeUndefined();
  for (const right of ['scans', 'looks', 'changes', 'keeps'])
    await sql`insert into people (id, name, email, updated_at, "right")
      values (${right}, ${right}, ${`${right}@marrambay.example`}, now(), ${right})`.execute(own);
  await sql`insert into welcomes (token_hash, kind, "right", made_by, expires_at)
    values ('a', 'invitation', 'looks', 'Ida', now()), ('b', 'reset', null, 'Ida', now())`.execute(
    own,
  );
  await sql`insert into lists (name, columns, source, created_by)
    values ('Stalls', '[]', 'stalls.csv', 'Ida')`.execute(own);
  await sql`insert into shares (person_id, list_id, "right", made_by)
    values ('scans', 1, 'changes', 'Ida'), ('looks', 1, 'looks', 'Ida')`.execute(own);
  await migrate(own);
  const rights = async (table: 'people' | 'welcomes' | 'shares', by: string) =>
    (
      await sql<{ right: string | null }>`
        select "right" from ${sql.table(table)} order by ${sql.ref(by)}`.execute(own)
    ).rows.map((row) => row.right);
  expect(await rights('people', 'id')).toEqual(['editor', 'administrator', 'viewer', 'scanner']);
  expect(await rights('welcomes', 'token_hash')).toEqual(['viewer', null]);
  expect(await rights('shares', 'person_id')).toEqual(['viewer', 'editor']);
  await expect(sql`update people set "right" = 'keeps'`.execute(own)).rejects.toThrow();
  await own.destroy();
});
