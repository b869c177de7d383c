import { type Selectable, sql } from 'kysely';
import type { z } from 'zod';
import type { ScanAnswer, scanSchema } from '../../contract';
import {
  answerTo,
  passBefore,
  type Answer,
  type Answered,
  type Pass,
} from '../../core/checkpoint/answer';
import { corrected } from '../../core/checkpoint/offline';
import { sessionAt } from '../../core/checkpoint/rule';
import { openKeyColumn, titleColumn, type Values } from '../../core/records/columns';
import { keepable } from '../../core/records/keepable';
import { clock, type CheckpointScans, type Database, Refusal } from '../platform';
import { recognise, wrapSeen, type Recognised } from './recognising';
import {
  cameIn,
  checkpointAt,
  clockWords,
  keyOf,
  shownOf,
  titleOf,
  type CheckpointAt,
} from './rows';

/** Who scans: a device that joined, or a person who is signed in. */
export interface Scanner {
  device: number | null;
  who: string;
}

type Scan = z.output<typeof scanSchema>;

/** If a device's clock differs by more than this, in ms, its times are not used. */
const mostOffset = 10 * 365 * 86_400_000;
/** How many records a search offers. */
const mostFound = 8;
/** The length to which an unknown code is stored, in characters. */
const most = 300;

/**
 * Answers scans and stores each as one line of the tape, however often it is sent. Scans of the
 * same code wait for one another, so that it is let in once, at however many gates it is shown at
 * the same moment.
 * @param given the device's clock at sending, and how many scans it still holds
 */
export async function takeScans(
  db: Database,
  checkpoint: number,
  scanner: Scanner,
  scans: readonly Scan[],
  given: { now: number; waiting: number },
): Promise<ScanAnswer[]> {
  const at = await checkpointAt(db, checkpoint);
  const now = clock.now();
  const offset = Math.abs(now - given.now) > mostOffset ? 0 : Math.round(now - given.now);
  if (scanner.device !== null)
    await sql`
      update checkpoint_devices set offset_ms = ${offset}, waiting = ${given.waiting}
      where id = ${scanner.device}
        and (abs(offset_ms - ${offset}) > 400 or waiting <> ${given.waiting})`.execute(db);
  const out = new Map<string, ScanAnswer>();
  // in the order in which they were made, whatever the order of arrival
  const inOrder = [...scans].sort((a, b) => (a.apart?.at ?? now) - (b.apart?.at ?? now));
  for (const scan of inOrder)
    out.set(
      scan.key,
      await takeScan(
        db,
        at,
        scanner,
        scan,
        scan.apart ? corrected(scan.apart.at, offset, now) : now,
      ),
    );
  return scans.map((scan) => out.get(scan.key)!);
}

async function takeScan(
  db: Database,
  at: CheckpointAt,
  scanner: Scanner,
  scan: Scan,
  when: number,
): Promise<ScanAnswer> {
  if (scan.text !== undefined) scan = { ...scan, text: keepable(scan.text) };
  const seen =
    scan.record === undefined
      ? await recognise(db, at, scan.text!)
      : await byHand(db, at, scan.record);
  const kept = await db.transaction().execute(async (tx) => {
    if (seen.record !== undefined)
      await sql`select pg_advisory_xact_lock(hashtextextended(${`checkpoint ${at.circle} ${seen.record}`},
        0))`.execute(tx);
    const { known, passes } = await before(tx, at, scan.key, seen.record);
    if (known) return keptHere(known, at);
    const says = answerTo(at.rule, seen.found, passes, when, at.name, (time) =>
      clockWords(time, when),
    );
    const said = scan.apart ? keptApart(at, scan, says, passes, when) : { ...says, found: null };
    const row = await tx
      .insertInto('checkpoint_scans')
      .values({
        checkpoint_id: at.id,
        key: scan.key,
        device_id: scanner.device,
        who: scanner.who,
        how: scan.how,
        at: new Date(when),
        answer: said.answer,
        why: [said.why, seen.differs].filter(Boolean).join('; ').slice(0, 600),
        session: said.session,
        list_id: seen.taken?.id ?? null,
        record_id: seen.record ?? null,
        title: seen.taken && seen.values ? titleOf(seen.taken.columns, seen.values) : '',
        record_key: seen.taken && seen.values ? keyOf(seen.taken.columns, seen.values) : '',
        text: seen.record === undefined ? (scan.text ?? '').slice(0, most) : null,
        reason: scan.reason ?? null,
        apart: scan.apart !== undefined,
        found: said.found,
        twice_with: 'twice' in said ? (said.twice ?? null) : null,
      })
      .onConflict((c) => c.column('key').doNothing())
      .returningAll()
      .executeTakeFirst();
    // two scans of an unknown code at once need not wait: the other one has stored it
    return row ?? keptHere((await before(tx, at, scan.key, undefined)).known!, at);
  });
  return answerOf(db, kept, scan, seen);
}

/**
 * Stores a scan that a device answered offline: a person it let in is in. If another device let the
 * same code in at the same time, both lines stay and say so.
 */
function keptApart(
  at: CheckpointAt,
  scan: Scan,
  says: Answered,
  passes: readonly (Pass & { id: number })[],
  when: number,
): Answered & { found: Answer | null; twice?: number } {
  const told = scan.apart!;
  const session = sessionAt(at.rule.session, when);
  if (told.answer !== 'comes-in')
    // the device could not decide; now we can
    return told.answer === 'not-certain' || told.answer === says.answer
      ? { ...says, found: null }
      : { answer: told.answer, why: told.why, session, found: says.answer };
  if (says.answer === 'comes-in') return { ...says, found: null };
  const before = passBefore(at.rule, passes, session);
  const twice = before && passes.find((pass) => pass === before)?.id;
  return {
    answer: 'comes-in',
    why: says.answer === 'was-here' ? '' : says.why,
    session,
    found: says.answer === 'was-here' ? null : says.answer,
    ...(twice === undefined ? {} : { twice }),
  };
}

async function byHand(db: Database, at: CheckpointAt, record: number): Promise<Recognised> {
  const row = await db
    .selectFrom('records')
    .select(['list_id', 'values'])
    .where('id', '=', record)
    .executeTakeFirst();
  const taken = row && at.taken.find((t) => t.id === row.list_id);
  if (!row || !taken)
    throw new Refusal('This record is no longer in a list of this checkpoint. Find it again.', 404);
  return {
    // somebody who lets a person in by hand has looked at more than a code
    found: {
      kind: 'record',
      take: taken.take,
      values: row.values,
      columns: taken.columns,
      proven: true,
    },
    taken,
    record,
    values: row.values,
    differs: '',
  };
}

/**
 * The scan already stored under a name, and earlier scans that let its record in where checkpoints
 * count together, the latest first; in one query, since every scan runs it.
 */
export async function before(
  db: Database,
  at: CheckpointAt,
  key: string,
  record: number | undefined,
): Promise<{ known: Kept | undefined; passes: (Pass & { id: number })[] }> {
  const { rows } = await sql<Kept & { where: string; mine: boolean }>`
    (select s.*, '' as where, true as mine from checkpoint_scans s where s.key = ${key})
    union all
    (select s.*, c.name as where, false as mine from checkpoint_scans s
      join checkpoints c on c.id = s.checkpoint_id
    where s.record_id = ${record ?? null}::bigint and coalesce(c.circle, c.id) = ${at.circle}
      and ${cameIn} order by s.at desc limit 100)`.execute(db);
  return {
    known: rows.find((row) => row.mine),
    passes: rows
      .filter((row) => !row.mine)
      .map((row) => ({ id: row.id, at: row.at.getTime(), session: row.session, where: row.where })),
  };
}

/** A line of a tape as it is kept. */
type Kept = Selectable<CheckpointScans>;

/** @throws Refusal if a scan of that name belongs to another checkpoint */
function keptHere(row: Kept, at: CheckpointAt): Kept {
  if (row.checkpoint_id !== at.id)
    throw new Refusal('This scan was already sent at another checkpoint. Look for it there.', 409);
  return row;
}

/** A line as the device shows it. */
async function answerOf(
  db: Database,
  row: Kept,
  scan: Scan,
  seen: Recognised,
): Promise<ScanAnswer> {
  const twice = row.twice_with === null ? null : await otherOf(db, row.twice_with);
  return {
    key: scan.key,
    id: row.id,
    at: row.at.toISOString(),
    answer: row.answer as Answer,
    why: row.why,
    title: row.title,
    recordKey: row.record_key,
    shown: seen.taken && seen.values ? shownOf(seen.taken, seen.values) : [],
    session: row.session,
    differs: seen.differs,
    twice,
    wrap:
      row.answer === 'unknown' && scan.how === 'reader' && scan.text !== undefined
        ? await wrapSeen(db, await checkpointAt(db, row.checkpoint_id), scan.text)
        : null,
  };
}

async function otherOf(db: Database, id: number): Promise<ScanAnswer['twice']> {
  const row = await db
    .selectFrom('checkpoint_scans')
    .innerJoin('checkpoints', 'checkpoints.id', 'checkpoint_scans.checkpoint_id')
    .select(['at', 'who', 'checkpoints.name'])
    .where('checkpoint_scans.id', '=', id)
    .executeTakeFirst();
  return row ? { at: row.at.toISOString(), who: row.who, where: row.name } : null;
}

/**
 * Undoes a scan by a new line.
 * @throws Refusal if a device undoes a scan that is not its own last one, or it was undone already
 */
export async function takeBack(
  db: Database,
  checkpoint: number,
  scanner: Scanner,
  { key, scan, reason }: { key: string; scan: string; reason?: string },
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const row = await tx
      .selectFrom('checkpoint_scans')
      .selectAll()
      .where('key', '=', scan)
      .where('checkpoint_id', '=', checkpoint)
      .executeTakeFirst();
    if (!row || row.answer === 'taken-back')
      throw new Refusal('This scan is not on this tape. Reload the page.', 404);
    if (scanner.device !== null) {
      const last = await tx
        .selectFrom('checkpoint_scans')
        .select('key')
        .where('device_id', '=', scanner.device)
        .where('answer', '<>', 'taken-back')
        .orderBy('id', 'desc')
        .limit(1)
        .executeTakeFirst();
      if (last?.key !== scan)
        throw new Refusal(
          'A device can undo only its own last scan. The coordinator can undo any scan.',
          403,
        );
    }
    await tx
      .insertInto('checkpoint_scans')
      .values({
        checkpoint_id: checkpoint,
        key,
        device_id: scanner.device,
        who: scanner.who,
        how: row.how,
        at: clock.date(),
        answer: 'taken-back',
        session: row.session,
        list_id: row.list_id,
        record_id: row.record_id,
        title: row.title,
        record_key: row.record_key,
        reason: reason ?? null,
        takes_back: row.id,
      })
      // twice at once, or sent twice, is once
      .onConflict((c) => c.doNothing())
      .execute();
  });
}

/** A search by name or key, for letting people in by hand. */
export async function findRecords(
  db: Database,
  checkpoint: number,
  search: string,
): Promise<{ record: number; title: string; key: string }[]> {
  const at = await checkpointAt(db, checkpoint);
  const out: { record: number; title: string; key: string }[] = [];
  for (const taken of at.taken) {
    // only in columns that are shown: a search must not reveal a secret column
    const shown = [titleColumn(taken.columns), openKeyColumn(taken.columns)].flatMap((column) =>
      column ? [column.id] : [],
    );
    if (shown.length === 0) continue;
    const { rows } = await sql<{ id: number; values: Values }>`
      select id, values from records where list_id = ${taken.id}
        and concat_ws(E'\n', ${sql.join(shown.map((id) => sql`values->>${id}`))})
          ilike ${`%${search.replace(/[\\%_]/g, '\\$&')}%`}
      order by position limit ${mostFound}`.execute(db);
    for (const { id, values } of rows) {
      out.push({
        record: id,
        title: titleOf(taken.columns, values),
        key: keyOf(taken.columns, values),
      });
      if (out.length === mostFound) return out;
    }
  }
  return out;
}
