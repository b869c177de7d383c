import { sql } from 'kysely';
import type { CheckpointRow, CheckpointView } from '../../contract';
import { sessionAt, type Rule } from '../../core/checkpoint/rule';
import { isSecret, nameColumn } from '../../core/records/columns';
import { clock, type Database, Refusal } from '../platform';
import { countsOf } from './board';
import { devicesOf } from './devices';
import { checkpointAt, proves } from './rows';

/**
 * Creates a checkpoint for the codes of a list: once each, showing the title and what else tells
 * people apart.
 */
export async function makeCheckpoint(
  db: Database,
  { name, list }: { name: string; list: number },
  actor: string,
): Promise<number> {
  const of = await db
    .selectFrom('lists')
    .select(['columns', 'stamps'])
    .where('id', '=', list)
    .executeTakeFirst();
  if (!of) throw new Refusal('This list no longer exists. Choose another.', 404);
  const shows = of.columns
    .filter((c) => c.role === 'text' && !c.worked && !isSecret(c, of.columns))
    .slice(0, 2)
    .map((c) => c.id);
  const title = nameColumn(of.columns);
  const rule: Rule = {
    takes: [
      {
        list,
        stamps: [],
        genuine: of.stamps.length > 0 && of.stamps.every((s) => proves(s, of.columns)),
        holds: [],
        shows: title ? shows : shows.slice(0, 1),
      },
    ],
    often: 'once',
    session: { kind: 'none' },
    opens: null,
    ends: null,
  };
  const { id } = await db
    .insertInto('checkpoints')
    .values({ name, rule: JSON.stringify(rule), circle: null, created_by: actor })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

export async function listCheckpoints(db: Database): Promise<CheckpointRow[]> {
  const rows = await db
    .selectFrom('checkpoints')
    .select([
      'id',
      sql<number>`(select count(*)::int from checkpoint_devices d
        where d.checkpoint_id = checkpoints.id and d.joined_at is not null
        and d.shut_at is null and d.ends_at > now())`.as('devices'),
      sql<Date | null>`(select max(at) from checkpoint_scans s
        where s.checkpoint_id = checkpoints.id)`.as('last'),
    ])
    .orderBy('id', 'desc')
    .limit(200)
    .execute();
  const out: CheckpointRow[] = [];
  for (const { id, devices, last } of rows) {
    const at = await checkpointAt(db, id);
    const session = sessionAt(at.rule.session, clock.now());
    out.push({
      id,
      name: at.name,
      lists: at.taken.map((t) => t.name),
      session,
      ...(await countsOf(db, at, session)),
      devices,
      last: last?.toISOString() ?? null,
    });
  }
  return out;
}

export async function viewCheckpoint(db: Database, id: number): Promise<CheckpointView> {
  const at = await checkpointAt(db, id);
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'name', 'columns', 'stamps'])
    .where(sql<boolean>`id = any(${at.rule.takes.map((t) => t.list)}::int[])`)
    .execute();
  const others = await db
    .selectFrom('checkpoints')
    .select(['id', 'name', sql<number>`coalesce(circle, id)`.as('circle')])
    .where('id', '<>', id)
    .orderBy('name')
    .limit(200)
    .execute();
  return {
    id,
    name: at.name,
    version: at.version,
    rule: at.rule,
    lists: lists.map((list) => ({
      ...list,
      stamps: list.stamps.map((s) => ({
        id: s.id,
        name: s.name,
        proves: proves(s, list.columns),
      })),
    })),
    others: others.map((o) => ({ id: o.id, name: o.name, together: o.circle === at.circle })),
    devices: await devicesOf(db, id),
  };
}

/** @throws Refusal in words if a rule uses a missing column or one that must not be shown */
async function checkRule(db: Database, rule: Rule): Promise<void> {
  const lists = await db
    .selectFrom('lists')
    .select(['id', 'name', 'columns', 'stamps'])
    .where(sql<boolean>`id = any(${rule.takes.map((t) => t.list)}::int[])`)
    .execute();
  const seen = new Set<number>();
  for (const take of rule.takes) {
    const list = lists.find((l) => l.id === take.list);
    if (!list) throw new Refusal('One of the lists no longer exists. Choose another.');
    if (seen.has(take.list))
      throw new Refusal(`${list.name} is in the sentence twice. Remove one of them.`);
    seen.add(take.list);
    for (const id of [...take.shows, ...take.holds.map((hold) => hold.column)])
      if (!list.columns.some((c) => c.id === id))
        throw new Refusal(`A column of ${list.name} no longer exists. Choose another.`);
    const secret = list.columns.find((c) => take.shows.includes(c.id) && isSecret(c, list.columns));
    if (secret)
      throw new Refusal(
        `${secret.name} is secret, and a device shows it to anyone who looks. Choose other columns.`,
      );
    if (take.genuine && !list.stamps.some((s) => proves(s, list.columns)))
      throw new Refusal(
        `No stamp of ${list.name} carries a proof that it is genuine. Create one that does, or accept any code of the list.`,
      );
    if (take.holds.some((hold) => hold.is === 'session') && rule.session.kind === 'none')
      throw new Refusal('There are no sessions. Add sessions before a column must match one.');
  }
  if (rule.often === 'each-session' && rule.session.kind === 'none')
    throw new Refusal('There are no sessions. Add sessions before a code may pass once in each.');
  if (rule.opens && rule.ends && Date.parse(rule.opens) >= Date.parse(rule.ends))
    throw new Refusal('The end is before the start. Swap the two.');
  if (rule.session.kind === 'hand' && !rule.session.names.includes(rule.session.now))
    throw new Refusal('The current session is not in the list of sessions. Choose one.');
  if (rule.session.kind === 'time') {
    const spans = [...rule.session.spans].sort((a, b) => Date.parse(a.from) - Date.parse(b.from));
    for (const [i, span] of spans.entries()) {
      if (Date.parse(span.from) >= Date.parse(span.until))
        throw new Refusal(`${span.name}: the end is before the start. Swap the two.`);
      const next = spans[i + 1];
      if (next && Date.parse(next.from) < Date.parse(span.until))
        throw new Refusal(`${span.name} and ${next.name} overlap. Change one of them.`);
    }
  }
  if (rule.session.kind === 'column') {
    const first = lists.find((l) => l.id === rule.takes[0]!.list)!;
    const { column } = rule.session;
    const of = first.columns.find((c) => c.id === column);
    if (!of) throw new Refusal('The column of the sessions no longer exists. Choose another.');
    if (isSecret(of, first.columns))
      throw new Refusal(`${of.name} is secret. Choose another column.`);
  }
}

/** Changes the rule of a checkpoint. @throws Refusal 409 if it was changed in the meantime */
export async function changeCheckpoint(
  db: Database,
  id: number,
  change: { version: number; name?: string; rule?: Rule; together?: number[] },
): Promise<CheckpointView> {
  if (change.rule) await checkRule(db, change.rule);
  await db.transaction().execute(async (tx) => {
    // changes of which checkpoints count together wait for one another
    if (change.together)
      await sql`select pg_advisory_xact_lock(hashtextextended('checkpoint circles', 0))`.execute(
        tx,
      );
    const row = await tx
      .selectFrom('checkpoints')
      .select('version')
      .where('id', '=', id)
      .forUpdate()
      .executeTakeFirst();
    if (!row) throw new Refusal('This checkpoint no longer exists. It may have been deleted.', 404);
    if (row.version !== change.version)
      throw new Refusal(
        'Someone changed this in another window. You now see their version. Make your change again if you still want it.',
        409,
      );
    await tx
      .updateTable('checkpoints')
      .set({
        ...(change.name === undefined ? {} : { name: change.name }),
        ...(change.rule === undefined ? {} : { rule: JSON.stringify(change.rule) }),
        version: change.version + 1,
      })
      .where('id', '=', id)
      .execute();
    if (change.together) {
      const circle = Math.min(id, ...change.together);
      const all = [id, ...change.together];
      // a checkpoint that is left alone counts by itself again
      await sql`
        update checkpoints set circle = null
          where circle = (select coalesce(circle, id) from checkpoints where id = ${id})
          or id = ${id}`.execute(tx);
      if (change.together.length > 0)
        await sql`update checkpoints set circle = ${circle} where id = any(${all}::int[])`.execute(
          tx,
        );
    }
  });
  return viewCheckpoint(db, id);
}

/** Throws a checkpoint away, with its devices and its tape. */
export async function removeCheckpoint(db: Database, id: number): Promise<void> {
  const { numDeletedRows } = await db
    .deleteFrom('checkpoints')
    .where('id', '=', id)
    .executeTakeFirst();
  if (numDeletedRows === 0n)
    throw new Refusal('This checkpoint no longer exists. It may have been deleted.', 404);
}
