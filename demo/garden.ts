import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { parse } from 'csv-parse/sync';
import pg from 'pg';
import type { Database } from '../src/server/platform/db';
import { seal } from '../src/server/platform/sealed';

const reader = 'garden_reader';
const password = 'marram-bay-reads-only';

/**
 * The garden's records database of the demo: a second database in the same server, with plants,
 * beds and accessions, and a user who may only read. Made once. Returns the connection to it.
 */
export async function demoGarden(db: Database, url: string): Promise<number> {
  const known = await db
    .selectFrom('connections')
    .select('id')
    .where('name', '=', 'Garden records')
    .executeTakeFirst();
  const address = new URL(url);
  const port = Number(address.port);
  if (known) {
    // the demo's server takes another port at every start
    await db.updateTable('connections').set({ port }).where('id', '=', known.id).execute();
    return known.id;
  }
  const admin = new pg.Client(url);
  await admin.connect();
  const { rowCount } = await admin.query(
    `select 1 from pg_database where datname = 'garden_records'`,
  );
  if (!rowCount) await admin.query('create database garden_records');
  const role = await admin.query(`select 1 from pg_roles where rolname = $1`, [reader]);
  if (!role.rowCount) await admin.query(`create role ${reader} login password '${password}'`);
  // the reader of the garden's records has no access to our tables
  await admin.query(
    `revoke connect on database ${pg.escapeIdentifier(new URL(url).pathname.slice(1))} from public`,
  );
  await admin.end();
  address.pathname = '/garden_records';
  const client = new pg.Client(address.href);
  await client.connect();
  await client.query(`
    create table if not exists plants (plant text primary key, common_name text not null, family text not null);
    create table if not exists beds (bed text primary key, site text not null);
    create table if not exists accessions (
      id integer generated always as identity primary key, accession text not null, plant text not null, bed text references beds, site text not null,
      received text not null, source text not null, page text not null);
    create or replace view accession_signs as
      select a.accession as "Accession", a.plant as "Plant", p.common_name as "Common name", p.family as "Family", a.bed as "Bed", a.site as "Site",
             a.received as "Received", a.source as "Source", a.page as "Page"
      from accessions a join plants p using (plant) order by a.id;
    grant usage on schema public to ${reader};
    grant select on all tables in schema public to ${reader};
  `);
  const { rows: filled } = await client.query<{ filled: boolean }>(
    'select exists (select 1 from accessions) as filled',
  );
  const rows = filled[0]!.filled
    ? []
    : parse(await readFile(join(process.cwd(), 'demo', 'accessions.csv')), {
        bom: true,
        from_line: 2,
      });
  for (const [accession, plant, common, family, bed, site, received, source, page] of rows) {
    await client.query('insert into plants values ($1, $2, $3) on conflict do nothing', [
      plant,
      common,
      family,
    ]);
    if (bed)
      await client.query('insert into beds values ($1, $2) on conflict do nothing', [bed, site]);
    await client.query(
      'insert into accessions (accession, plant, bed, site, received, source, page) values ($1, $2, $3, $4, $5, $6, $7)',
      [accession, plant, bed || null, site, received, source, page],
    );
  }
  await client.end();
  // only where it is made: a start after that needs nothing else of what reads databases
  const { standInSetting } = await import('../src/server/sources/connections');
  const standIns = JSON.stringify([`${address.hostname}/garden_records`]);
  await db
    .insertInto('settings')
    .values({ name: standInSetting, value: standIns })
    .onConflict((c) => c.column('name').doUpdateSet({ value: standIns }))
    .execute();
  const { id } = await db
    .insertInto('connections')
    .values({
      name: 'Garden records',
      host: address.hostname,
      port,
      database: 'garden_records',
      username: reader,
      password: seal(password),
      created_by: 'demo',
    })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}
