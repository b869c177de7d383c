import { sql } from 'kysely';
import type { Board, TapeLine } from '../../contract';
import { sessionAt } from '../../core/checkpoint/rule';
import { isSecret } from '../../core/records/columns';
import { clock, type Database, Memo, Refusal, oncePerProcess } from '../platform';
import { cameIn, checkpointAt, expectedIn, type CheckpointAt, type Expected } from './rows';

const sessions = oncePerProcess('checkpoints.sessions', () => new Memo<string[]>(200, 60_000));

/** The sessions that there are, in their order. */
export const sessionsOf = (db: Database, at: CheckpointAt): Promise<string[]> =>
  sessions.get(db, `${at.id} ${at.state}`, () => readSessions(db, at));

async function readSessions(db: Database, at: CheckpointAt): Promise<string[]> {
  const { session } = at.rule;
  if (session.kind === 'none') return [];
  if (session.kind === 'hand') return session.names;
  if (session.kind === 'time') return [...new Set(session.spans.map((span) => span.name))];
  const first = at.taken[0];
  if (!first) return [session.now];
  const names = await valuesOf(db, first.id, session.column);
  return names.includes(session.now) ? names : [session.now, ...names];
}

/** The values of a column; several in one cell are taken separately. */
async function valuesOf(db: Database, list: number, column: string): Promise<string[]> {
  const { rows } = await sql<{ value: string }>`
    select distinct trim(value) as value
      from records, regexp_split_to_table(values->>${column}, '[,;/\n]') as value
    where list_id = ${list} and trim(value) <> '' order by 1 limit 40`.execute(db);
  return rows.map((row) => row.value);
}

/** The sessions that a column would make. @throws Refusal if it is secret */
export async function columnSessions(
  db: Database,
  checkpoint: number,
  column: string,
): Promise<string[]> {
  const [first] = (await checkpointAt(db, checkpoint)).taken;
  const of = first?.columns.find((c) => c.id === column);
  if (!first || !of) return [];
  if (isSecret(of, first.columns))
    throw new Refusal(`${of.name} is secret. Choose another column.`);
  return valuesOf(db, first.id, column);
}

/** Whether scans are counted by the session. */
const bySession = ({ rule }: CheckpointAt): boolean =>
  rule.session.kind !== 'none' && rule.often !== 'once';

/**
 * Records that were let in at the checkpoints that count together; per session if the rule counts
 * so.
 */
async function inNow(db: Database, at: CheckpointAt, session: string | null): Promise<Set<number>> {
  const { rows } = await sql<{ record_id: number }>`
    select distinct s.record_id from checkpoint_scans s join checkpoints c on c.id = s.checkpoint_id
    where coalesce(c.circle, c.id) = ${at.circle} and s.record_id is not null and ${cameIn}
      and (${!bySession(at)} or s.session is not distinct from ${session})`.execute(db);
  return new Set(rows.map((row) => row.record_id));
}

/**
 * For so long, in ms, fifty devices that ask after every scan get the same counts, calculated once.
 */
const countedFor = 400;
const arrived = oncePerProcess(
  'checkpoints.arrived',
  () => new Memo<{ in: number; of: number }>(200, countedFor),
);

/** How many of those expected are in. */
export const countsOf = (
  db: Database,
  at: CheckpointAt,
  session: string | null,
): Promise<{ in: number; of: number }> =>
  arrived.get(db, JSON.stringify([at.id, at.state, session]), () => countArrived(db, at, session));

async function countArrived(
  db: Database,
  at: CheckpointAt,
  session: string | null,
): Promise<{ in: number; of: number }> {
  const [expected, inside] = await Promise.all([
    expectedIn(db, at, session),
    inNow(db, at, session),
  ]);
  return counted(expected, inside);
}

/** A person who was let in and is no longer expected is still in. */
function counted(
  expected: readonly Expected[],
  inside: ReadonlySet<number>,
): { in: number; of: number } {
  const known = new Set(expected.map((one) => one.record));
  const more = [...inside].filter((record) => !known.has(record)).length;
  return { in: inside.size, of: expected.length + more };
}

/** Lengths of a span in a chart of arrivals, in minutes, and most spans in it. */
const spans = [1, 2, 5, 10, 15, 30, 60, 120, 360, 1440, 10_080];
const mostSpans = 24;

async function arrivalsOf(
  db: Database,
  at: CheckpointAt,
  session: string | null,
): Promise<Board['arrivals']> {
  const of = sql`from checkpoint_scans s join checkpoints c on c.id = s.checkpoint_id
    where coalesce(c.circle, c.id) = ${at.circle} and ${cameIn}
      and (${!bySession(at)} or s.session is not distinct from ${session})`;
  const {
    rows: [bounds],
  } = await sql<{ first: Date | null; last: Date | null }>`
    select min(s.at) as first, max(s.at) as last ${of}`.execute(db);
  if (!bounds?.first || !bounds.last)
    return { from: clock.date().toISOString(), span: 5, counts: [] };
  const minutes = (bounds.last.getTime() - bounds.first.getTime()) / 60_000;
  const span = spans.find((each) => minutes / each < mostSpans - 1) ?? spans.at(-1)!;
  const from = Math.floor(bounds.first.getTime() / (span * 60_000)) * span * 60_000;
  const { rows } = await sql<{ n: number; scans: number }>`
    select floor((extract(epoch from s.at) * 1000 - ${from}::float8) / ${span * 60_000}::float8)::int as n,
      count(*)::int as scans ${of} group by 1`.execute(db);
  const length = Math.min(mostSpans * 20, Math.max(...rows.map((row) => row.n)) + 1);
  const counts = Array.from({ length }, () => 0);
  for (const { n, scans } of rows) if (n >= 0 && n < length) counts[n] = scans;
  return { from: new Date(from).toISOString(), span, counts };
}

interface Line {
  id: number;
  key: string;
  at: Date;
  answer: TapeLine['answer'];
  why: string;
  title: string;
  record_key: string;
  session: string | null;
  who: string;
  how: TapeLine['how'];
  reason: string | null;
  apart: boolean;
  found: TapeLine['found'];
  text: string | null;
  back: boolean;
  other_at: Date | null;
  other_who: string | null;
  other_where: string | null;
}

/** Lines of a tape, each with the other line that let the same code in while offline. */
export const tapeRows = (checkpoint: number, before: number | undefined, limit: number) =>
  sql<Line>`
    select s.id, s.key, s.at, s.answer, s.why, s.title, s.record_key, s.session, s.who, s.how,
      s.reason, s.apart, s.found, s.text,
      exists (select from checkpoint_scans b where b.takes_back = s.id) as back,
      o.at as other_at, o.who as other_who, oc.name as other_where
    from (select * from checkpoint_scans
      where checkpoint_id = ${checkpoint}
      and (${before ?? null}::bigint is null or id < ${before ?? null})
        order by id desc limit ${limit}) s
      left join lateral (select * from checkpoint_scans o
        where o.id = s.twice_with or o.twice_with = s.id order by o.id limit 1) o on true
      left join checkpoints oc on oc.id = o.checkpoint_id
    order by s.id desc`;

const shownLine = (row: Line): TapeLine => ({
  id: row.id,
  key: row.key,
  at: row.at.toISOString(),
  answer: row.answer,
  why: row.why,
  title: row.title,
  recordKey: row.record_key,
  session: row.session,
  who: row.who,
  how: row.how,
  reason: row.reason,
  apart: row.apart,
  found: row.found,
  twice:
    row.other_at === null
      ? null
      : { at: row.other_at.toISOString(), who: row.other_who!, where: row.other_where! },
  back: row.back,
});

export async function viewBoard(
  db: Database,
  checkpoint: number,
  asked: { session?: string; search: string; missing: number; lines: number },
): Promise<Board> {
  const at = await checkpointAt(db, checkpoint);
  const session = asked.session ?? sessionAt(at.rule.session, clock.now());
  const [all, expected, inside, arrivals, tape, counts] = await Promise.all([
    sessionsOf(db, at),
    expectedIn(db, at, session),
    inNow(db, at, session),
    arrivalsOf(db, at, session),
    tapeRows(checkpoint, undefined, asked.lines).execute(db),
    sql<{ lines: number; twice: number }>`
      select count(*)::int as lines, count(twice_with)::int as twice from checkpoint_scans
        where checkpoint_id = ${checkpoint}`.execute(db),
  ]);
  const low = asked.search.trim().toLocaleLowerCase();
  const missing = expected.filter((one) => !inside.has(one.record));
  return {
    session,
    sessions: all,
    ...counted(expected, inside),
    arrivals,
    missing: (low === ''
      ? missing
      : missing.filter(({ title, key }) => `${title} ${key}`.toLocaleLowerCase().includes(low))
    )
      .slice(0, asked.missing)
      .map(({ record, title, key }) => ({ record, title, key })),
    tape: tape.rows.map(shownLine),
    ...counts.rows[0]!,
  };
}
