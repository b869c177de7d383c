import { type RawBuilder, sql } from 'kysely';
import type { LinkChangeView, LinkCounts, LinkRow, LinkView, WhichLinks } from '../../contract';
import { includes, type Right } from '../../core/access/rights';
import { codeIn, isLinkCode, linkAddress, tidyCode } from '../../core/links/code';
import type { Device } from '../../core/links/device';
import { clock, type Database, heavy, ourAddresses, ourHosts, Refusal } from '../platform';
import { askingNow } from './asking';
import { dayOf, hostsOf, leadingNow, linkRows, type LinkWithRecord, shownLeading } from './rows';

/** Rows of one window of the table. */
const windowSize = 100;
const day = 86_400_000;

/** Links for one person open personal things, so viewers do not see them. */
const seen = (right: Right): RawBuilder<unknown> =>
  includes(right, 'editor') ? sql`true` : sql`length(l.code) = 9`;

const isOpen = (today: string) =>
  sql`l.state = 'open' and (l.opens is null or l.opens <= ${today})
    and (l.ends is null or l.ends >= ${today})`;
const isOver = (today: string) =>
  sql`(l.state = 'withdrawn' or (l.state = 'open' and l.ends < ${today}))`;
const unanswered = sql`l.answered in ('not-found', 'fails', 'no-answer')`;
const isUnscanned = sql`l.printed_at is not null
  and (l.scanned_at is null or l.scanned_at < l.printed_at)`;
const isNowhere = sql`l.leads is null
  and not exists (select from records r where r.id = l.record_id)`;

/** The address that a link leads to now, with the values of its record. */
const leadsNow = sql`(
  select string_agg(case when p->>'kind' = 'text' then p->>'text'
      else coalesce(r.values->>(p->>'column'), '') end, '' order by n)
    from jsonb_array_elements(coalesce(l.leads::jsonb,
      (select s.leads::jsonb from link_sets s where s.id = l.set_id))->'parts')
      with ordinality as x(p, n)
    left join records r on r.id = l.record_id)`;

/**
 * Links by search and filter. The search looks in the name, the code, the whole printed address,
 * and the address to which the link leads now.
 */
export function chosen({ filter, search, list }: WhichLinks, right: Right): RawBuilder<unknown> {
  const now = clock.date();
  const today = dayOf(now);
  const tomorrow = dayOf(new Date(now.getTime() + day));
  const filters: Record<WhichLinks['filter'], RawBuilder<unknown>> = {
    all: sql`true`,
    open: isOpen(today),
    'not-found': sql`l.state = 'open' and ${unanswered}`,
    nowhere: sql`l.state = 'open' and ${isNowhere}`,
    ending: sql`l.state = 'open' and l.ends in (${today}, ${tomorrow})`,
    paused: sql`l.state = 'paused'`,
    over: isOver(today),
    unscanned: isUnscanned,
    alone: sql`l.set_id is null`,
  };
  const words = search.trim();
  const like = `%${words.replace(/[\\%_]/g, '\\$&')}%`;
  const found =
    words === ''
      ? sql`true`
      : sql`(l.title ilike ${like} or l.code like ${`${tidyCode(words).replace(/[\\%_]/g, '')}%`}
        or l.code = ${codeIn(tidyCode(words.replace(/\/preview\/?$/i, ''))) ?? ''}
        or ${leadsNow} ilike ${like})`;
  return sql`${seen(right)} and ${filters[filter]} and ${found}
    and ${list === undefined ? sql`true` : sql`l.list_id = ${list}`}`;
}

const counting = heavy(4, 100);

/** Counts of links by state. */
export async function linkCounts(
  db: Database,
  list: number | undefined,
  right: Right,
): Promise<LinkCounts> {
  const today = dayOf(clock.date());
  const tomorrow = dayOf(new Date(clock.now() + day));
  const of = list === undefined ? sql`true` : sql`l.list_id = ${list}`;
  const [{ rows }, lists, week, { links: base }, asking] = await counting(() =>
    Promise.all([
      sql<
        Record<
          | 'all'
          | 'open'
          | 'notfound'
          | 'ending'
          | 'paused'
          | 'over'
          | 'printed'
          | 'unscanned'
          | 'alone'
          | 'scans',
          number
        > & { asked: Date | null }
      >`
        select count(*)::int as all, count(*) filter (where ${isOpen(today)})::int as open,
          count(*) filter (where l.state = 'open' and ${unanswered})::int as notfound,
          count(*) filter (where l.state = 'open'
            and l.ends in (${today}, ${tomorrow}))::int as ending,
          count(*) filter (where l.state = 'paused')::int as paused,
            count(*) filter (where ${isOver(today)})::int as over,
          count(*) filter (where l.printed_at is not null)::int as printed,
          count(*) filter (where ${isUnscanned})::int as unscanned,
            count(*) filter (where l.set_id is null)::int as alone,
          coalesce(sum(l.scans), 0)::int as scans, max(l.asked_at) as asked
        from links l where ${seen(right)} and ${of}`.execute(db),
      sql<{ id: number; name: string; links: number }>`
        select li.id, li.name, count(*)::int as links from links l
          join lists li on li.id = l.list_id
        where ${seen(right)} group by li.id order by li.name`.execute(db),
      sql<{ scans: number }>`
        select coalesce(sum(h.scans), 0)::int as scans from link_scans h
          join links l on l.code = h.code
        where h.hour >= ${new Date(clock.now() - 7 * day)} and h.device <> 'robot'
          and ${seen(right)} and ${of}`.execute(db),
      ourAddresses(db),
      askingNow(db),
    ]),
  );
  const { notfound, asked, ...rest } = rows[0]!;
  return {
    base,
    ...rest,
    notFound: notfound,
    week: week.rows[0]!.scans,
    asking,
    asked: asked?.toISOString() ?? null,
    lists: lists.rows,
  };
}

const orders = {
  new: sql`l.created_at desc, l.code`,
  scans: sql`l.scans desc, l.code`,
  title: sql`l.title, l.code`,
};

/** A window of the links, and how many there are of the kind. */
export async function listLinks(
  db: Database,
  { order, from, ...which }: WhichLinks & { order: keyof typeof orders; from: number },
  right: Right,
): Promise<{ of: number; rows: LinkRow[] }> {
  const where = chosen(which, right);
  const [count, page, hosts] = await counting(() =>
    Promise.all([
      sql<{ of: number }>`select count(*)::int as of from links l where ${where}`.execute(db),
      sql<LinkWithRecord>`
        select ${linkRows}
          join (select code, row_number() over (order by ${orders[order]}) as nth from links l
          where ${where}
          order by ${orders[order]} limit ${windowSize} offset ${from}) w on w.code = l.code
            order by w.nth`.execute(db),
      hostsOf(db),
    ]),
  );
  const days = await daysOf(
    db,
    page.rows.map((row) => row.code),
  );
  return {
    of: count.rows[0]!.of,
    rows: page.rows.map((row) => shownRow(row, hosts, days.get(row.code), right)),
  };
}

/**
 * Links of a list after a given code, for programs that go through all of them while others are
 * made.
 */
export async function linksAfter(
  db: Database,
  { list, after, limit }: { list: number; after: string; limit: number },
  right: Right,
): Promise<LinkRow[]> {
  const where = chosen({ filter: 'all', search: '', list }, right);
  const [page, hosts] = await Promise.all([
    sql<LinkWithRecord>`select ${linkRows} where ${where} and l.code > ${after} order by l.code
      limit ${limit}`.execute(db),
    hostsOf(db),
  ]);
  return page.rows.map((row) => shownRow(row, hosts, undefined, right));
}

const shownDays = 14;

function shownRow(
  row: LinkWithRecord,
  hosts: ReadonlySet<string>,
  days: ReadonlyMap<string, number> | undefined,
  right: Right,
): LinkRow {
  const now = clock.now();
  return {
    code: row.code,
    title: row.title,
    leading: shownLeading(row, leadingNow(row, hosts), includes(right, 'editor')),
    answered: row.answered,
    ends: row.ends,
    printed: row.printed_at !== null,
    scans: row.scans,
    days: Array.from(
      { length: shownDays },
      (_, i) => days?.get(dayOf(new Date(now - (shownDays - 1 - i) * day))) ?? 0,
    ),
  };
}

/** Scans by people on days lately, by code and day. */
async function daysOf(
  db: Database,
  codes: readonly string[],
): Promise<Map<string, Map<string, number>>> {
  const rows = await db
    .selectFrom('link_scans')
    .select(['code', 'hour', 'scans'])
    .where(sql<boolean>`code = any(${[...codes]}::text[])`)
    .where('hour', '>=', new Date(clock.now() - shownDays * day))
    .where('device', '<>', 'robot')
    .execute();
  const by = new Map<string, Map<string, number>>();
  for (const { code, hour, scans } of rows) {
    const own = by.get(code) ?? new Map<string, number>();
    by.set(code, own.set(dayOf(hour), (own.get(dayOf(hour)) ?? 0) + scans));
  }
  return by;
}

/** Most days that a chart shows. */
const chartDays = 60;

/** One link, for people who may see it. @throws Refusal if there is none */
export async function viewLink(db: Database, typed: string, right: Right): Promise<LinkView> {
  const code = tidyCode(typed);
  const { rows } = await sql<
    LinkWithRecord & {
      list_id: number | null;
      list: string | null;
      column_id: string | null;
      created_by: string;
      created_at: Date;
      scanned_at: Date | null;
      set_id: number | null;
      job: number | null;
    }
  >`
    select l.list_id, li.name as list, s.column_id, l.created_by, l.created_at, l.scanned_at,
      l.set_id,
      (select min(j.id) from jobs j where j.list_id = l.list_id) as job, ${linkRows}
        where l.code = ${code} and ${seen(right)}`.execute(db);
  const row = rows[0];
  if (!row)
    throw new Refusal(
      isLinkCode(code)
        ? 'This link does not exist. Check its code.'
        : 'This is not the code of a link: one character is wrong, or two are swapped. Compare it with the printed code.',
      404,
    );
  const { base: _, ...addresses } = await ourAddresses(db);
  const hosts = ourHosts({ base: _, ...addresses });
  const since = new Date(clock.now() - chartDays * day);
  const scans = await db
    .selectFrom('link_scans')
    .select(['hour', 'device', 'scans'])
    .where('code', '=', code)
    .execute();
  const hours = Array.from({ length: 7 }, () => Array.from({ length: 24 }, () => 0));
  const devices: Partial<Record<Device, number>> = {};
  const daily = new Map<string, number>();
  for (const { hour, device, scans: n } of scans) {
    devices[device] = (devices[device] ?? 0) + n;
    if (device === 'robot') continue;
    hours[(hour.getDay() + 6) % 7]![hour.getHours()]! += n;
    if (hour >= since) daily.set(dayOf(hour), (daily.get(dayOf(hour)) ?? 0) + n);
  }
  const first = [...daily.keys()].sort()[0];
  const shownFrom = first ?? dayOf(new Date(clock.now() - (shownDays - 1) * day));
  const all: { day: string; scans: number }[] = [];
  for (let i = chartDays; i >= 0; i--) {
    const at = dayOf(new Date(clock.now() - i * day));
    if (at >= shownFrom) all.push({ day: at, scans: daily.get(at) ?? 0 });
  }
  const columns = row.columns ?? [];
  const column = columns.find((c) => c.id === row.column_id);
  return {
    ...shownRow(row, hosts, daily, right),
    address: linkAddress(addresses.links, code),
    rule: {
      leads: row.leads,
      state: row.state,
      opens: row.opens,
      ends: row.ends,
      after: row.after,
      peeks: row.peeks,
    },
    column:
      row.set_leads && row.column_id
        ? {
            id: row.column_id,
            name: column?.name ?? 'a deleted column',
            list: row.list_id ?? 0,
            leads: row.set_leads,
          }
        : null,
    list: row.list_id !== null && row.list !== null ? { id: row.list_id, name: row.list } : null,
    columns: columns.map(({ id, name }) => ({ id, name })),
    job: row.job,
    history: await historyOf(db, code, row.set_id, row.created_at),
    made: row.created_at.toISOString(),
    by: row.created_by,
    printedAt: row.printed_at?.toISOString() ?? null,
    scannedAt: row.scanned_at?.toISOString() ?? null,
    daily: all,
    hours,
    devices: devices as LinkView['devices'],
  };
}

/** Changes of a link, and of the links of its column since it exists; the latest first. */
async function historyOf(
  db: Database,
  code: string,
  set: number | null,
  since: Date,
): Promise<LinkChangeView[]> {
  const rows = await db
    .selectFrom('link_changes')
    .select((e) => [
      'batch',
      'code',
      'before',
      'after',
      'changed_at',
      'changed_by',
      'undone',
      e
        .selectFrom('link_changes as o')
        .whereRef('o.batch', '=', 'link_changes.batch')
        .select((o) => o.fn.countAll<number>().as('n'))
        .as('together'),
    ])
    .where((e) =>
      e.or([
        e('code', '=', code),
        e.and([e('set_id', '=', set ?? -1), e('changed_at', '>=', since)]),
      ]),
    )
    .orderBy('id', 'desc')
    .limit(100)
    .execute();
  return rows.map((row) => ({
    batch: row.batch,
    of: row.code === null ? 'column' : 'link',
    before: row.before,
    after: row.after,
    at: row.changed_at.toISOString(),
    by: row.changed_by ?? 'somebody',
    undone: row.undone,
    together: row.together ?? 1,
  }));
}
