/**
 * A scan of a link among 100,000: what the server does for it, against the one row by its key that
 * no answer can do without; and the table of links.
 */
import { randomInt } from 'node:crypto';
import { sql } from 'kysely';
import { newLinkCode } from '../src/core/links/code';
import { followLink, linkCounts, listLinks } from '../src/server/links';
import { writeScans } from '../src/server/links/counting';
import { migrate, openDatabase } from '../src/server/platform/db';
import { median, report } from './measure';

interface Postgres {
  startPostgres(
    purpose: string,
    options?: { fresh?: boolean },
  ): Promise<{ url: string; stop(): void }>;
}

const links = 100_000;
const scans = 3000;

export async function benchLinks(): Promise<void> {
  const { startPostgres } = (await import('../scripts/lib-postgres.mjs' as string)) as Postgres;
  const server = await startPostgres('bench', { fresh: true });
  const { db } = openDatabase(server.url, 4);
  try {
    await migrate(db);
    const codes = Array.from({ length: links }, () =>
      newLinkCode('anyone', (most) => randomInt(most)),
    );
    // a list of that length, whose links follow their records
    await sql`insert into lists (name, columns, source, created_by) values ('Beds', '[{"id":"c1","name":"Bed","role":"key"},{"id":"w2","name":"Link","role":"text",
      "worked":{"source":{"kind":"link","for":"anyone","parts":[{"kind":"text","text":"https://marrambay.example/beds/"},{"kind":"column","column":"c1"}]},"steps":[]}}]'::jsonb, 'bench', 'bench')`.execute(
      db,
    );
    await sql`insert into records (list_id, position, values)
      select 1, n - 1, json_build_object('c1', 'B-' || n, 'w2', 'HTTPS://GO.MARRAMBAY.EXAMPLE/' || code)
      from unnest(${codes}::text[]) with ordinality as u(code, n)`.execute(db);
    await sql`analyze`.execute(db);
    const request = new Request('http://localhost/x', {
      headers: { 'user-agent': 'Mozilla/5.0 (iPhone) Mobile Safari' },
    });
    const ours: number[] = [];
    const peer: number[] = [];
    let wrong = 0;
    for (let i = -200; i < scans; i++) {
      const code = codes[randomInt(links)]!;
      let begun = performance.now();
      const { status } = await followLink(db, code, request);
      if (i >= 0) ours.push(performance.now() - begun);
      if (status !== 302) wrong++;
      begun = performance.now();
      await sql`select code from links where code = ${code}`.execute(db);
      if (i >= 0) peer.push(performance.now() - begun);
    }
    await writeScans(db);
    const { rows } = await sql<{
      scans: number;
    }>`select sum(scans)::int as scans from links`.execute(db);
    report(
      'a scan among 100,000 links, ms (peer: one row by its key)',
      median(ours),
      median(peer),
      'lower',
    );
    console.log(
      `  of ${scans + 200} scans ${rows[0]!.scans} are counted, ${wrong} were not led on`,
    );
    const table: number[] = [];
    const counted: number[] = [];
    for (let i = 0; i < 20; i++) {
      let begun = performance.now();
      await listLinks(
        db,
        { filter: 'all', search: '', order: 'new', from: i * 4900 },
        'administrator',
      );
      table.push(performance.now() - begun);
      begun = performance.now();
      await linkCounts(db, undefined, 'administrator');
      counted.push(performance.now() - begun);
    }
    const records: number[] = [];
    for (let i = 0; i < 20; i++) {
      const begun = performance.now();
      await sql`select id, values from records where list_id = 1 order by position offset ${i * 4900} limit 100`.execute(
        db,
      );
      records.push(performance.now() - begun);
    }
    report(
      'a window of 100,000 links, ms (peer: a window of 100,000 records)',
      median(table),
      median(records),
      'lower',
    );
    console.log(`  counting them: ${median(counted).toFixed(0)} ms`);
  } finally {
    await db.destroy();
    server.stop();
  }
}
