import { sql } from 'kysely';
import { failing, holdsOf, type Rule, type Take } from '../../core/checkpoint/rule';
import { purposeOf } from '../../core/payload/purposes';
import type { Stamp } from '../../core/payload/stamp';
import { columnsOf } from '../../core/payload/stamp';
import { openKeyColumn, titleColumn, type Column, type Values } from '../../core/records/columns';
import { holdsProofs } from '../../core/records/beginnings';
import { type Database, Memo, Refusal, oncePerProcess } from '../platform';

/** A list whose codes a checkpoint accepts, with what is needed of it. */
export interface Taken {
  take: Take;
  id: number;
  name: string;
  columns: Column[];
  stamps: Stamp[];
  changes: number;
}

export interface CheckpointAt {
  id: number;
  name: string;
  rule: Rule;
  version: number;
  /** The number shared by checkpoints that count together. */
  circle: number;
  taken: Taken[];
  /** Tells two states of the checkpoint, its rule and its lists apart. */
  state: string;
}

const places = oncePerProcess('checkpoints.places', () => new Memo<CheckpointAt>(200, 10 * 60_000));

/**
 * A checkpoint with its current lists; a deleted list is no longer accepted. Every scan asks only
 * for the numbers that identify its state.
 * @throws Refusal if there is none
 */
export async function checkpointAt(db: Database, id: number): Promise<CheckpointAt> {
  const { rows } = await sql<{ state: string }>`
    select json_build_array(c.name, c.version, c.circle,
      (select json_agg(json_build_array(l.id, l.changes, l.name) order by l.id) from lists l
        where l.id in (select (t->>'list')::int
          from json_array_elements(c.rule->'takes') t)))::text as state
    from checkpoints c where c.id = ${id}`.execute(db);
  const state = rows[0]?.state;
  if (state === undefined)
    throw new Refusal('This checkpoint no longer exists. It may have been deleted.', 404);
  return places.get(db, `${id} ${state}`, async () => ({
    ...(await readCheckpoint(db, id)),
    state,
  }));
}

async function readCheckpoint(db: Database, id: number): Promise<Omit<CheckpointAt, 'state'>> {
  const row = await db
    .selectFrom('checkpoints')
    .select(['id', 'name', 'rule', 'version', 'circle'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (!row) throw new Refusal('This checkpoint no longer exists. It may have been deleted.', 404);
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'name', 'columns', 'stamps', 'changes'])
    .where(sql<boolean>`id = any(${row.rule.takes.map((t) => t.list)}::int[])`)
    .execute();
  return {
    ...row,
    circle: row.circle ?? row.id,
    taken: row.rule.takes.flatMap((take) => {
      const list = lists.find((l) => l.id === take.list);
      if (!list) return [];
      const stamps = list.stamps.filter(
        (s) =>
          (take.stamps.length === 0 || take.stamps.includes(s.id)) &&
          (!take.genuine || proves(s, list.columns)),
      );
      return [{ ...list, take, stamps }];
    }),
  };
}

/** Whether the codes of a stamp carry a proof of genuineness. */
export const proves = (stamp: Stamp, columns: readonly Column[]): boolean =>
  purposeOf(stamp.does).proves ||
  columnsOf(stamp).some((id) => columns.some((c) => c.id === id && holdsProofs(c)));

export const titleOf = (columns: readonly Column[], values: Values): string => {
  const column = titleColumn(columns);
  return (column && values[column.id]) || 'a record';
};
export const keyOf = (columns: readonly Column[], values: Values): string => {
  const column = openKeyColumn(columns);
  return (column && values[column.id]) || '';
};

/** What is shown of a record: the chosen columns that are not blank, by name. */
export const shownOf = ({ take, columns }: Taken, values: Values): [string, string][] =>
  take.shows.flatMap((id): [string, string][] => {
    const column = columns.find((c) => c.id === id);
    const value = (values[id] ?? '').trim();
    return column && value !== '' ? [[column.name, value]] : [];
  });

export interface Expected {
  record: number;
  list: number;
  title: string;
  key: string;
}

const memo = oncePerProcess('checkpoints.expected', () => new Memo<Expected[]>(60, 10 * 60_000));

/**
 * Records whose codes would be let in during a session; calculated again if the lists or the rule
 * changed.
 */
export function expectedIn(
  db: Database,
  at: CheckpointAt,
  session: string | null,
): Promise<Expected[]> {
  const state = JSON.stringify([at.id, at.state, session]);
  return memo.get(db, state, async () => {
    const out: Expected[] = [];
    for (const taken of at.taken) {
      const { take, columns, id } = taken;
      // without a session, all of those are meant that may come in one
      const all = holdsOf(at.rule, take);
      const holds = session === null ? all.filter((hold) => hold.is !== 'session') : all;
      await eachRecord(db, id, (record, values) => {
        if (failing(holds, values, columns, session) === undefined)
          out.push({
            record,
            list: id,
            title: titleOf(columns, values),
            key: keyOf(columns, values),
          });
      });
    }
    return out;
  });
}

const inOneGo = 5000;

/** All records of a list in their order, some at a time, so that other requests get their turn. */
export async function eachRecord(
  db: Database,
  list: number,
  work: (record: number, values: Values) => void,
): Promise<void> {
  for (let after = -1; ;) {
    const rows = await db
      .selectFrom('records')
      .select(['id', 'position', 'values'])
      .where('list_id', '=', list)
      .where('position', '>', after)
      .orderBy('position')
      .limit(inOneGo)
      .execute();
    for (const row of rows) work(row.id, row.values);
    if (rows.length < inOneGo) return;
    after = rows.at(-1)!.position;
  }
}

/** A scan that was let in and not undone. */
export const cameIn = sql<boolean>`s.answer = 'comes-in'
  and not exists (select from checkpoint_scans b where b.takes_back = s.id)`;

const two = (n: number) => String(n).padStart(2, '0');

/** A time of day, with the date if it is not today. In the server's time zone. */
export function clockWords(at: number, now: number): string {
  const then = new Date(at);
  const time = `${two(then.getHours())}:${two(then.getMinutes())}`;
  return then.toDateString() === new Date(now).toDateString()
    ? time
    : `${time} on ${then.toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' })}`;
}
