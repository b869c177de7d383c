import { sql } from 'kysely';
import { changeJob, viewJob } from '../src/server/jobs';
import { changeLinks, makeLink } from '../src/server/links';
import { keepWorkedColumn } from '../src/server/lists';
import { changePages, startPages } from '../src/server/pages';
import { writeAddresses } from '../src/server/platform';
import type { Database } from '../src/server/platform/db';

const day = 86_400_000;

/** The name under which the garden's links are reached. */
const linkHost = 'https://go.marrambay.example';

/** Every plant has a page of its own, and the bed signs go by links that lead there. */
export async function bedSignLinks(db: Database, job: number): Promise<void> {
  const { list, document } = await viewJob(db, job);
  const named = (name: string) => list.columns.find((c) => c.name === name)!.id;
  const anyone = ['Plant', 'Family', 'Bed', 'Site'].map((name) => ({
    column: named(name),
    who: 'anyone' as const,
  }));
  const staff = ['Accession', 'Received', 'Source'].map((name) => ({
    column: named(name),
    who: 'signed-in' as const,
  }));
  const { pages } = await startPages(db, list.id, 'Ines Tarrow');
  await changePages(
    db,
    list.id,
    {
      version: pages!.version,
      document: {
        open: true,
        title: [{ kind: 'column', column: named('Common name') }],
        picture: null,
        shown: [...anyone, ...staff],
        stamp: document.stamps[0]!.id,
      },
    },
    'Ines Tarrow',
  );
  const now = await viewJob(db, job);
  const page = now.list.columns.find((c) => c.worked?.source.kind === 'page')!;
  const column = await keepWorkedColumn(
    db,
    list.id,
    {
      name: 'Link',
      worked: {
        source: { kind: 'link', for: 'anyone', parts: [{ kind: 'column', column: page.id }] },
        steps: [],
      },
    },
    'Ines Tarrow',
  );
  const [stamp, ...others] = document.stamps;
  await changeJob(
    db,
    job,
    {
      version: now.version,
      document: {
        ...document,
        stamps: [{ ...stamp!, does: 'page', parts: [{ kind: 'column', column }] }, ...others],
      },
    },
    'Ines Tarrow',
  );
}

/**
 * Numbers that look thrown and are the same each time: a linear congruential generator (Numerical
 * Recipes).
 */
function thrown(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
}

/** How busy the garden is by the hour. */
const busy = [0, 0, 0, 0, 0, 0, 0, 1, 3, 6, 10, 12, 11, 12, 14, 13, 11, 8, 5, 3, 2, 1, 0, 0];
const classes = [
  'phone',
  'phone',
  'phone',
  'phone',
  'phone',
  'phone',
  'tablet',
  'computer',
  'robot',
] as const;

/** A few links by themselves, and a month in which visitors scanned signs; all of it invented. */
export async function gardenLinks(db: Database): Promise<void> {
  const made = async (title: string, to: string) =>
    (await makeLink(db, { title, to, for: 'anyone' }, 'Oda Brennick')).code;
  const map = await made('Open weekend map', 'https://marrambay.example/weekend-map');
  const loan = await made('Seed loan form', 'https://marrambay.example/loans/new');
  const key = await made('Tool shed, key box', 'https://marrambay.example/staff/keys');
  const talk = await made(
    'Talk on salt marsh plants',
    'https://marrambay.example/talks/salt-marsh',
  );
  const in1 = new Date(Date.now() + day).toISOString().slice(0, 10);
  await changeLinks(db, { codes: [key] }, { state: 'paused' }, 'Ines Tarrow');
  await changeLinks(
    db,
    { codes: [talk] },
    { ends: in1, after: 'https://marrambay.example/talks' },
    'Oda Brennick',
  );
  await changeLinks(
    db,
    { codes: [loan] },
    { leads: { parts: [{ kind: 'text', text: 'https://marrambay.example/loans/begin' }] } },
    'Oda Brennick',
  );
  await db
    .updateTable('links')
    .set({ created_at: new Date(Date.now() - 34 * day) })
    .execute();
  const throws = thrown(26);
  const rows: { code: string; hour: number; device: string; scans: number }[] = [];
  const signs = await db
    .selectFrom('links')
    .select(['code', 'record_id'])
    .where('set_id', 'is not', null)
    .orderBy('record_id')
    .execute();
  const scan = (code: string, visits: number) => {
    const times = new Map<string, number>();
    for (let i = 0; i < visits; i++) {
      const back = Math.floor(throws() * 30);
      const at = new Date(Date.now() - back * day);
      // weekends are twice as busy
      if (at.getDay() % 6 !== 0 && throws() < 0.4) continue;
      let hour = 0;
      do hour = Math.floor(throws() * 24);
      while (throws() * 14 > busy[hour]!);
      at.setHours(hour, 0, 0, 0);
      if (at.getTime() > Date.now()) continue;
      const key = `${at.getTime()} ${classes[Math.floor(throws() * classes.length)]!}`;
      times.set(key, (times.get(key) ?? 0) + 1);
    }
    for (const [key, scans] of times) {
      const [hour, device] = key.split(' ');
      rows.push({ code, hour: Number(hour) / 1000, device: device!, scans });
    }
  };
  scan(map, 1400);
  scan(loan, 160);
  scan(key, 60);
  scan(talk, 90);
  // some signs stand by the path, most are passed by
  for (const [i, { code }] of signs.entries())
    if (throws() < 0.45) scan(code, Math.ceil(120 / (1 + (i % 60))) + Math.floor(throws() * 6));
  await sql`
    insert into link_scans (code, hour, device, scans)
    select code, to_timestamp(hour), device, scans from unnest(${rows.map((r) => r.code)}::text[], ${rows.map((r) => r.hour)}::bigint[],
      ${rows.map((r) => r.device)}::text[], ${rows.map((r) => r.scans)}::int[]) as u(code, hour, device, scans)`.execute(
    db,
  );
  await sql`
    update links l set scans = n.scans, scanned_at = n.last from (
      select code, sum(scans)::int as scans, max(hour) as last from link_scans where device <> 'robot' group by code) n where n.code = l.code`.execute(
    db,
  );
}

/**
 * Links have a short name of their own; nobody outside the demo reaches it, and the interface says
 * so.
 */
export const gardenAddresses = (db: Database): Promise<void> =>
  writeAddresses(db, { base: '', links: linkHost });
