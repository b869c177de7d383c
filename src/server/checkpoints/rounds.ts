import { formOf } from '../../core/payload/stamp';
import { sql } from 'kysely';
import type { RoundRow, RoundScan, RoundView } from '../../contract';
import { takeApart } from '../../core/checkpoint/recognise';
import {
  comparedRounds,
  roundAnswer,
  samePlace,
  type RoundLine,
  type RoundOutcome,
} from '../../core/checkpoint/round';
import type { Stamp } from '../../core/payload/stamp';
import {
  isSecret,
  keyColumn,
  nameColumn,
  titleColumn,
  type Column,
  type Values,
} from '../../core/records/columns';
import { keepable } from '../../core/records/keepable';
import { addRecords, editCells } from '../lists';
import { clock, type Database, heavy, joined, Refusal } from '../platform';
import { recognise } from './recognising';
import { clockWords, eachRecord, keyOf, titleOf, type CheckpointAt } from './rows';

interface RoundAt {
  id: number;
  name: string;
  list: number;
  listName: string;
  column: string;
  columns: Column[];
  stamps: Stamp[];
  changes: number;
  created_at: Date;
  closed_at: Date | null;
}

async function roundAt(db: Database, id: number): Promise<RoundAt> {
  const row = await db
    .selectFrom('rounds')
    .innerJoin('lists', 'lists.id', 'rounds.list_id')
    .select([
      'rounds.id',
      'rounds.name',
      'rounds.list_id as list',
      'lists.name as listName',
      'rounds.place_column as column',
      'lists.columns',
      'lists.stamps',
      'lists.changes',
      'rounds.created_at',
      'rounds.closed_at',
    ])
    .where('rounds.id', '=', id)
    .executeTakeFirst();
  if (!row) throw new Refusal('This round no longer exists. It may have been deleted.', 404);
  return row;
}

/** A list with all its stamps, in the form for recognizing codes. */
const asCheckpoint = (at: RoundAt): CheckpointAt => {
  const take = { list: at.list, stamps: [], genuine: false, holds: [], shows: [] };
  return {
    id: at.id,
    name: at.name,
    version: 1,
    circle: at.id,
    state: '',
    rule: { takes: [take], often: 'any', session: { kind: 'none' }, opens: null, ends: null },
    taken: [
      {
        take,
        id: at.list,
        name: at.listName,
        columns: at.columns,
        stamps: at.stamps,
        changes: at.changes,
      },
    ],
  };
};

const mustBeOpen = (at: RoundAt): void => {
  if (at.closed_at !== null) throw new Refusal('This round is closed. Start another one.', 409);
};

/**
 * Starts a round of a list. @throws Refusal if the location column does not exist, is calculated,
 * or is secret
 */
export async function startRound(
  db: Database,
  { name, list, column }: { name: string; list: number; column: string },
  actor: string,
): Promise<number> {
  const of = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirst();
  if (!of) throw new Refusal('This list no longer exists. Choose another.', 404);
  const place = of.columns.find((c) => c.id === column);
  if (!place) throw new Refusal('The column of the locations no longer exists. Choose another.');
  if (place.worked)
    throw new Refusal(
      `${place.name} is worked out from other columns, so it cannot hold a location. Choose another column.`,
    );
  if (isSecret(place, of.columns))
    throw new Refusal(`${place.name} is secret. Choose another column.`);
  const { id } = await db
    .insertInto('rounds')
    .values({ name, list_id: list, place_column: column, started_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

export async function listRounds(db: Database): Promise<RoundRow[]> {
  const { rows } = await sql<{
    id: number;
    name: string;
    list: string;
    by: string;
    begun: Date;
    closed: Date | null;
    seen: number;
    of: number;
  }>`
    select o.id, o.name, l.name as list, o.started_by as by, o.created_at as begun,
      o.closed_at as closed,
      case when o.closed_at is null
        then (select count(*)::int from round_scans s
          where s.round_id = o.id and s.answer in ('here', 'elsewhere'))
        else (select count(*)::int from round_lines n
          where n.round_id = o.id and n.outcome in ('seen', 'moved', 'elsewhere')) end as seen,
      case when o.closed_at is null then (select count(*)::int from records r
        where r.list_id = o.list_id)
        else (select count(*)::int from round_lines n
          where n.round_id = o.id and n.outcome <> 'found') end as of
    from rounds o join lists l on l.id = o.list_id order by o.id desc limit 200`.execute(db);
  return rows.map((row) => ({
    ...row,
    begun: row.begun.toISOString(),
    closed: row.closed?.toISOString() ?? null,
  }));
}

interface ScanRow {
  id: number;
  key: string;
  at: Date;
  who: string;
  place: string;
  answer: RoundScan['answer'];
  why: string;
  record_id: number | null;
  title: string;
  record_key: string;
  belongs: string | null;
  text: string | null;
  done: RoundScan['done'];
}
const shownScan = (row: ScanRow): RoundScan => ({
  id: row.id,
  key: row.key,
  at: row.at.toISOString(),
  who: row.who,
  place: row.place,
  answer: row.answer,
  why: row.why,
  record: row.record_id,
  title: row.title,
  recordKey: row.record_key,
  belongs: row.belongs,
  text: row.text,
  done: row.done,
});

const mostPlaces = 500;
const mostLines = 60;

export async function viewRound(db: Database, id: number): Promise<RoundView> {
  const at = await roundAt(db, id);
  const [places, tape, before, job] = await Promise.all([
    sql<{ place: string; of: number; seen: number }>`
      select place, count(*)::int as of, count(seen)::int as seen
      from (
        select trim(coalesce(r.values->>${at.column}, '')) as place, s.id as seen
        from records r
          left join round_scans s on s.round_id = ${id} and s.record_id = r.id
          and s.answer in ('here', 'elsewhere')
        where r.list_id = ${at.list}) p
      group by place order by nullif(place, '') nulls last limit ${mostPlaces}`.execute(db),
    db
      .selectFrom('round_scans')
      .selectAll()
      .where('round_id', '=', id)
      .orderBy('id', 'desc')
      .limit(mostLines)
      .execute(),
    db
      .selectFrom('rounds')
      .select(['id', 'name'])
      .where('list_id', '=', at.list)
      .where('closed_at', '<', at.closed_at ?? clock.date())
      .where('id', '<>', id)
      .orderBy('closed_at', 'desc')
      .limit(20)
      .execute(),
    db
      .selectFrom('jobs')
      .select('id')
      .where('list_id', '=', at.list)
      .orderBy('id')
      .executeTakeFirst(),
  ]);
  const sum = (key: 'of' | 'seen') => places.rows.reduce((n, row) => n + row[key], 0);
  return {
    id,
    name: at.name,
    list: { id: at.list, name: at.listName, job: job?.id ?? null },
    column: at.columns.find((c) => c.id === at.column)?.name ?? 'a deleted column',
    begun: at.created_at.toISOString(),
    closed: at.closed_at?.toISOString() ?? null,
    places: places.rows,
    seen: sum('seen'),
    of: sum('of'),
    tape: tape.map(shownScan),
    before,
  };
}

/** What belongs to a location and was not seen yet. */
export async function unseenAt(
  db: Database,
  id: number,
  place: string,
): Promise<{ unseen: { record: number; title: string; key: string }[]; of: number }> {
  const at = await roundAt(db, id);
  const { rows } = await sql<{ id: number; values: Values; of: number }>`
    select r.id, r.values, (count(*) over ())::int as of from records r
    where r.list_id = ${at.list}
      and lower(trim(coalesce(r.values->>${at.column}, ''))) = lower(trim(${place}))
      and not exists (select from round_scans s where s.round_id = ${id} and s.record_id = r.id)
    order by r.position limit 200`.execute(db);
  return {
    unseen: rows.map(({ id: record, values }) => ({
      record,
      title: titleOf(at.columns, values),
      key: keyOf(at.columns, values),
    })),
    of: rows[0]?.of ?? 0,
  };
}

/** The length to which an unknown code is stored, in characters. */
const most = 300;

/** Answers a scan at a location and stores it once, however often it is sent. */
export async function scanOnRound(
  db: Database,
  id: number,
  scan: {
    key: string;
    how: ScanHow;
    place: string;
    text?: string;
    record?: number;
  },
  who: string,
): Promise<RoundScan> {
  const at = await roundAt(db, id);
  mustBeOpen(at);
  const text = scan.text === undefined ? undefined : keepable(scan.text);
  const seen = text === undefined ? await chosen(db, at, scan.record!) : await found(db, at, text);
  const row = await db.transaction().execute(async (tx) => {
    // a round that was closed in the meantime accepts nothing more
    const round = await tx
      .selectFrom('rounds')
      .select('closed_at')
      .where('id', '=', id)
      .forShare()
      .executeTakeFirst();
    if (!round || round.closed_at !== null) mustBeOpen({ ...at, closed_at: clock.date() });
    if (seen)
      await sql`select pg_advisory_xact_lock(hashtextextended(${`round ${id} ${seen.record}`},
        0))`.execute(tx);
    const known = await tx
      .selectFrom('round_scans')
      .selectAll()
      .where('key', '=', scan.key)
      .executeTakeFirst();
    if (known) return known;
    const before =
      seen &&
      (await tx
        .selectFrom('round_scans')
        .select(['place', 'at'])
        .where('round_id', '=', id)
        .where('record_id', '=', seen.record)
        .orderBy('id')
        .executeTakeFirst());
    const belongs = seen && (seen.values[at.column] ?? '');
    const says = roundAnswer(
      scan.place,
      belongs,
      before && { place: before.place, at: clockWords(before.at.getTime(), clock.now()) },
    );
    const made = await tx
      .insertInto('round_scans')
      .values({
        round_id: id,
        key: scan.key,
        who,
        how: scan.how,
        place: scan.place,
        answer: says.answer,
        why: says.why,
        record_id: seen?.record ?? null,
        title: seen ? titleOf(at.columns, seen.values) : '',
        record_key: seen ? keyOf(at.columns, seen.values) : '',
        belongs: belongs ?? null,
        text: seen ? null : (text ?? '').slice(0, most),
      })
      .onConflict((c) => c.column('key').doNothing())
      .returningAll()
      .executeTakeFirst();
    return (
      made ??
      (await tx
        .selectFrom('round_scans')
        .selectAll()
        .where('key', '=', scan.key)
        .executeTakeFirstOrThrow())
    );
  });
  if (row.round_id !== id)
    throw new Refusal('This scan belongs to another round. Open that round to change it.', 409);
  return shownScan(row);
}
type ScanHow = 'camera' | 'reader' | 'picture' | 'hand';

async function chosen(db: Database, at: RoundAt, record: number) {
  const row = await db
    .selectFrom('records')
    .select('values')
    .where('id', '=', record)
    .where('list_id', '=', at.list)
    .executeTakeFirst();
  if (!row) throw new Refusal('This record is no longer in the list. Reload the page.', 404);
  return { record, values: row.values };
}

/** on a round, an altered code still identifies the thing it is on */
async function found(
  db: Database,
  at: RoundAt,
  text: string,
): Promise<{ record: number; values: Values } | undefined> {
  const { record, values } = await recognise(db, asCheckpoint(at), text);
  return record === undefined || values === undefined ? undefined : { record, values };
}

/**
 * A change of a list is made while a line of the round is held: not so many at once that none finds
 * a connection.
 */
const settling = heavy(3, 100);

/**
 * Moves something that was found elsewhere to where it was found, as a change of its record like
 * any other; or creates a record for an unknown code.
 * @throws Refusal if that was done already, or does not fit the scan
 */
export async function settleOnRound(
  db: Database,
  id: number,
  { scan, does, title }: { scan: string; does: 'move' | 'make'; title?: string },
  actor: string,
): Promise<RoundScan> {
  const at = await roundAt(db, id);
  mustBeOpen(at);
  return settling(() =>
    db.transaction().execute(async (tx) => {
      // a second press at the same moment waits, and finds it done
      const row = await tx
        .selectFrom('round_scans')
        .selectAll()
        .where('key', '=', scan)
        .where('round_id', '=', id)
        .forUpdate()
        .executeTakeFirst();
      if (!row) throw new Refusal('This scan is not on this round. Reload the page.', 404);
      if (row.done !== null) return shownScan(row);
      if (does === 'move') {
        if (row.record_id === null || row.answer === 'unknown')
          throw new Refusal(
            'This code has no record, so there is nothing to move. Add it as a record first.',
          );
        await editCells(
          joined(tx),
          at.list,
          [{ record: row.record_id, column: at.column, value: row.place }],
          actor,
          { kind: 'edit', note: `Moved on the round ${at.name}` },
        );
        const moved = await tx
          .updateTable('round_scans')
          .set({ done: 'moved' })
          .where('id', '=', row.id)
          .returningAll()
          .executeTakeFirstOrThrow();
        return shownScan(moved);
      }
      if (row.answer !== 'unknown' || row.text === null)
        throw new Refusal('It is already a record. Reload the page.');
      const now = await found(tx, at, row.text);
      const record =
        now?.record ?? (await makeRecord(joined(tx), at, row.text, row.place, title, actor));
      const { values } = await chosen(tx, at, record);
      const made = await tx
        .updateTable('round_scans')
        .set({
          done: 'made',
          record_id: record,
          title: titleOf(at.columns, values),
          record_key: keyOf(at.columns, values),
        })
        .where('id', '=', row.id)
        .returningAll()
        .executeTakeFirstOrThrow();
      return shownScan(made);
    }),
  );
}

/**
 * A record for something that is not in the list: its key from its code, its location, and its
 * name.
 */
async function makeRecord(
  db: Database,
  at: RoundAt,
  text: string,
  place: string,
  title: string | undefined,
  actor: string,
): Promise<number> {
  const key = keyColumn(at.columns);
  const name = nameColumn(at.columns) ?? titleColumn(at.columns);
  const said = at.stamps
    .map((stamp) => takeApart(formOf(stamp), text))
    .find((one) => one !== undefined && Object.values(one).every((value) => value !== ''));
  const values: Record<string, string> = {};
  const writable = (id: string) => at.columns.some((c) => c.id === id && !c.worked);
  for (const [column, value] of Object.entries(said ?? {}))
    if (writable(column)) values[column] = value;
  if (key && writable(key.id)) values[key.id] ??= text.slice(0, 200);
  if (name && title && writable(name.id) && name.id !== key?.id) values[name.id] = title;
  values[at.column] = place;
  const [record] = await addRecords(db, at.list, [values], actor);
  return record!;
}

const inOneGo = 2000;

/** Closes a round: the result of each record is stored, whatever happens to the list later. */
export async function closeRound(db: Database, id: number, actor: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const { numUpdatedRows } = await tx
      .updateTable('rounds')
      .set({ closed_at: clock.date(), closed_by: actor })
      .where('id', '=', id)
      .where('closed_at', 'is', null)
      .executeTakeFirst();
    if (numUpdatedRows === 0n) {
      await roundAt(tx, id);
      throw new Refusal('This round is already closed. Reload the page to see its report.', 409);
    }
    const at = await roundAt(tx, id);
    const scans = await tx
      .selectFrom('round_scans')
      .selectAll()
      .where('round_id', '=', id)
      .orderBy('id')
      .execute();
    const by = new Map(
      scans
        .filter((s) => s.answer !== 'twice' && s.record_id !== null)
        .map((s) => [s.record_id, s]),
    );
    const moved = new Set(scans.filter((s) => s.done === 'moved').map((s) => s.record_id));
    const lines: {
      record: number | null;
      title: string;
      key: string;
      place: string;
      seen: string | null;
      outcome: RoundOutcome;
    }[] = [];
    await eachRecord(tx, at.list, (record, values) => {
      const scan = by.get(record);
      const place = (values[at.column] ?? '').trim();
      lines.push({
        record,
        title: titleOf(at.columns, values),
        key: keyOf(at.columns, values),
        place,
        seen: scan && !samePlace(scan.place, place) ? scan.place : null,
        outcome: !scan
          ? 'missing'
          : scan.done === 'made'
            ? 'found'
            : moved.has(record)
              ? 'moved'
              : samePlace(scan.place, place)
                ? 'seen'
                : 'elsewhere',
      });
    });
    // unknown codes, each once
    const unknown = new Map(
      scans.filter((s) => s.answer === 'unknown' && s.done === null).map((s) => [s.text, s]),
    );
    for (const scan of unknown.values())
      lines.push({
        record: null,
        title: '',
        key: scan.text ?? '',
        place: scan.place,
        seen: null,
        outcome: 'found',
      });
    for (let from = 0; from < lines.length; from += inOneGo)
      await tx
        .insertInto('round_lines')
        .values(
          lines.slice(from, from + inOneGo).map((line, i) => ({
            round_id: id,
            seq: from + i,
            record_id: line.record,
            title: line.title,
            record_key: line.key,
            place: line.place,
            seen_at: line.seen,
            outcome: line.outcome,
          })),
        )
        .execute();
  });
}

export interface ReportLine extends RoundLine {
  place: string;
  seenAt: string | null;
}

/** Lines of a closed round in the order of the list. @throws Refusal while it is open */
export async function linesOfRound(
  db: Database,
  id: number,
): Promise<{ at: RoundAt; lines: ReportLine[] }> {
  const at = await roundAt(db, id);
  if (at.closed_at === null)
    throw new Refusal('The report is ready when the round is closed. Close the round first.', 409);
  const rows = await db
    .selectFrom('round_lines')
    .selectAll()
    .where('round_id', '=', id)
    .orderBy('seq')
    .execute();
  return {
    at,
    lines: rows.map((row) => ({
      record: row.record_id,
      title: row.title,
      key: row.record_key,
      place: row.place,
      seenAt: row.seen_at,
      outcome: row.outcome,
    })),
  };
}

/** What needs a look comes first; at most so many lines of it are shown. */
const mostReported = 1000;

export async function reportOfRound(db: Database, id: number, before: number | undefined) {
  const { lines } = await linesOfRound(db, id);
  const counts = { seen: 0, moved: 0, elsewhere: 0, missing: 0, found: 0 };
  for (const line of lines) counts[line.outcome]++;
  const then = before === undefined ? undefined : await linesOfRound(db, before);
  const compared = then && comparedRounds(then.lines, lines);
  return {
    counts,
    lines: lines.filter((line) => line.outcome !== 'seen').slice(0, mostReported),
    compared: compared
      ? {
          name: then.at.name,
          back: compared.back.slice(0, mostReported) as ReportLine[],
          still: compared.still.slice(0, mostReported) as ReportLine[],
          anew: compared.anew.slice(0, mostReported) as ReportLine[],
        }
      : null,
  };
}

export async function removeRound(db: Database, id: number): Promise<void> {
  const { numDeletedRows } = await db.deleteFrom('rounds').where('id', '=', id).executeTakeFirst();
  if (numDeletedRows === 0n)
    throw new Refusal('This round no longer exists. It may have been deleted.', 404);
}
