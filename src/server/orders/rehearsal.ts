import { keyColumn } from '../../core/records/columns';
import { sql } from 'kysely';
import type { Rehearsal } from '../../contract';
import { openKeyColumn, type Values } from '../../core/records/columns';
import { mayStart } from '../../core/orders/chain';
import {
  givenChip,
  listOf,
  orderTrouble,
  placesIn,
  eventOf,
  startsFrom,
  type Order,
} from '../../core/orders/order';
import { shortCondition, shortStep, shortWhen } from '../../core/orders/says';
import { nextAfter } from '../../core/orders/schedule';
import type { Database } from '../platform';
import { clock, Refusal, RunError } from '../platform';
import { trayFiles } from '../sources';
import { happened, titlesOf } from './log';
import { namesFor } from './names';
import { about, askConditions, doneBefore } from './situation';
import { doerOf, NotYet, type Situation, StepTrouble } from './steps';
import { recordOf } from './tell';

/** So many of the latest events are rehearsed. */
const lastThings = 12;

interface Past {
  id: number;
  kind: string;
  change: string | null;
  list_id: number | null;
  record_id: number | null;
  before: Values | null;
  after: Values | null;
  given: Values | null;
  chain: number[];
  at: Date;
  title?: string;
  /** It is a record of the list, as if it happened to it now. */
  asIf?: boolean;
}

/**
 * What an order would do with the latest real events, or with one record or file. By the same
 * checks as the real thing; nothing is made, sent or written.
 */
export async function rehearse(
  db: Database,
  id: number,
  { document, record, file }: { document: Order; record?: number; file?: string },
): Promise<Rehearsal> {
  const order = await db
    .selectFrom('standing_orders')
    .select(['id', 'name', 'example'])
    .where('id', '=', id)
    .executeTakeFirst();
  if (!order)
    throw new Refusal('This standing order no longer exists. It may have been deleted.', 404);
  const list = listOf(document.when);
  const columns =
    list === null
      ? []
      : ((await db.selectFrom('lists').select('columns').where('id', '=', list).executeTakeFirst())
          ?.columns ?? []);
  const names = (await namesFor(db))(document);
  const parts: Rehearsal['parts'] = [
    { kind: 'when', at: 0, short: shortWhen(document.when) },
    ...document.conditions.list.map((c, at) => ({
      kind: 'condition' as const,
      at,
      short: shortCondition(c, names),
    })),
    ...document.steps.map((s, at) => ({ kind: 'step' as const, at, short: shortStep(s) })),
  ];
  const past = await pastOf(db, document, { record, file, example: order.example });
  const titles = await titlesOf(db, past);
  const lines: Rehearsal['lines'] = [];
  for (const event of past) {
    const own = event.record_id ?? (await recordOf(db, document, event));
    lines.push({
      at: event.at.toISOString(),
      title: happened(event, event.title ?? titles.get(event.id) ?? ''),
      record: own,
      look: await lookOf(db, document, own),
      ...(await lineOf(db, order, document, event, own, parts.length)),
    });
  }
  return {
    parts,
    lines,
    asIf: past.some((event) => event.asIf),
    trouble: orderTrouble(document, columns) ?? null,
  };
}

/** Where the result for a record can be previewed. */
async function lookOf(
  db: Database,
  { steps }: Order,
  record: number | null,
): Promise<Rehearsal['lines'][number]['look']> {
  const make = steps.find((s) => s.kind === 'make' && s.which === 'record');
  if (make?.kind !== 'make' || record === null) return null;
  const found = await db
    .selectFrom('records')
    .innerJoin('lists', 'lists.id', 'records.list_id')
    .select(['records.values', 'lists.columns'])
    .where('records.id', '=', record)
    .executeTakeFirst();
  const key = found && openKeyColumn(found.columns);
  return key ? { job: make.job, key: found.values[key.id] ?? '' } : null;
}

type Cell = Rehearsal['lines'][number]['cells'][number];

async function lineOf(
  db: Database,
  order: { id: number; name: string },
  document: Order,
  event: Past,
  record: number | null,
  many: number,
): Promise<{ cells: Cell[]; why: string }> {
  const cells: Cell[] = [];
  const ended = (why: string) => ({
    cells: [
      ...cells,
      ...Array.from({ length: many - cells.length }, (): Cell => ({ state: 'none', words: '' })),
    ],
    why,
  });
  const start = mayStart(order.id, event.chain);
  if (!start.starts) {
    cells.push({ state: 'own', words: start.why });
    return ended(start.why);
  }
  cells.push({ state: 'on', words: 'starts' });
  const chips = Object.fromEntries(
    Object.entries(event.given ?? {}).map(([place, value]) => [givenChip(place), value]),
  );
  const of = await about(db, document, { record, before: event.before, chips });
  try {
    const thing = event.given?.['path'] ? `file ${event.given['path']}` : `record ${record}`;
    const { holds, each } = await askConditions(db, document, of, () =>
      doneBefore(db, order.id, thing),
    );
    for (const one of each)
      cells.push(
        one === null
          ? { state: 'none', words: '' }
          : { state: one.holds ? 'on' : 'stops', words: one.holds ? 'holds' : one.why },
      );
    if (!holds) return ended(each.findLast((one) => one && !one.holds)?.why ?? '');
  } catch (error) {
    if (!(error instanceof NotYet)) throw error;
    return ended('its records are being checked. Rehearse again in a moment.');
  }
  let values = of.values;
  let taken = false;
  for (const [seq, step] of document.steps.entries()) {
    const situation: Situation = {
      db,
      order,
      firing: 0,
      seq,
      chain: [],
      actor: '',
      ...of,
      values,
      waitsFor: undefined,
      before: [],
    };
    try {
      // the values of a file are known to its job only once it was added there
      if (taken && step.kind === 'make') {
        cells.push({ state: 'on', words: 'would make it, after the file is added there' });
        continue;
      }
      const would = await doerOf(step).would(step, situation);
      taken ||= step.kind === 'take';
      values = { ...values, ...would.chips };
      if (would.stops !== undefined) {
        cells.push({ state: 'stops', words: would.stops });
        return ended(would.stops);
      }
      cells.push({ state: 'on', words: would.words });
    } catch (error) {
      if (error instanceof StepTrouble || error instanceof Refusal || error instanceof RunError) {
        cells.push({ state: 'wrong', words: error.message });
        return ended(error.message);
      }
      throw error;
    }
  }
  return ended('');
}

/** The last things that happened of the kind that an order waits for, the latest first. */
async function pastOf(
  db: Database,
  { when }: Order,
  { record, file, example }: { record?: number; file?: string; example: unknown },
): Promise<Past[]> {
  const now = clock.date();
  const bare = {
    list_id: listOf(when),
    record_id: null,
    before: null,
    after: null,
    given: null,
    chain: [],
    change: null,
  };
  if (record !== undefined) {
    const kind = when.kind === 'scan' ? 'scan' : when.kind === 'hand' ? 'hand' : 'record';
    return [
      {
        ...bare,
        id: 1,
        kind,
        record_id: record,
        change: kind === 'record' ? 'changed' : null,
        at: now,
      },
    ];
  }
  switch (when.kind) {
    case 'record':
    case 'reaches': {
      const { rows } = await sql<Past>`
        select r.seq + r.number * 1000000 as id, 'record' as kind, case r.change
          when 'added' then 'came' when 'changed' then 'changed' else 'went' end as change,
          r.list_id, r.record_id, r.before::jsonb as before, r.after::jsonb as after, null as given,
            v.chain, v.created_at as at
        from revision_rows r join revisions v on v.list_id = r.list_id and v.number = r.number
        where r.list_id = ${when.list} order by r.number desc, r.seq desc limit 400`.execute(db);
      const key = await keyOfList(db, when.list);
      const found = rows.flatMap((row) => {
        const { before, after } = row;
        const change = eventOf({ change: row.change as 'came', before, after }, key, undefined);
        return change && startsFrom(when, { list: when.list, change, before, after })
          ? [{ ...row, change }]
          : [];
      });
      if (found.length > 0 || when.kind === 'reaches') return found.slice(0, lastThings);
      // nothing has happened to the list yet: its last records, as if it happened to them now
      const change = (['came', 'changed', 'went'] as const).find((one) => when.on.includes(one));
      return (await lastRecords(db, when.list, 'record')).map((row) => ({
        ...row,
        change: change ?? 'came',
      }));
    }
    case 'document': {
      const files = await recentFiles(when.folder, file, lastThings);
      return files.map((f, i) => ({
        ...bare,
        id: i + 1,
        kind: 'document',
        change: 'came',
        given: f.given,
        at: f.at,
      }));
    }
    case 'call':
      return example === null || example === undefined
        ? []
        : [{ ...bare, id: 1, kind: 'call', given: Object.fromEntries(placesIn(example)), at: now }];
    case 'scan': {
      const rows = await db
        .selectFrom('checkpoint_scans as s')
        .innerJoin('checkpoints as c', 'c.id', 's.checkpoint_id')
        .select([
          's.id',
          's.list_id',
          's.record_id',
          's.at',
          's.answer',
          'c.name',
          'c.id as checkpoint',
        ])
        .where('s.list_id', '=', when.list)
        .where('s.record_id', 'is not', null)
        .where('s.answer', '<>', 'taken-back')
        .$if(when.checkpoint !== null, (q) => q.where('s.checkpoint_id', '=', when.checkpoint))
        .orderBy('s.id', 'desc')
        .limit(lastThings)
        .execute();
      if (when.of === 'link') return lastRecords(db, when.list, 'scan');
      return rows.map((row) => ({
        ...bare,
        id: row.id,
        kind: 'scan',
        list_id: row.list_id,
        record_id: row.record_id,
        given: { where: row.name, answer: row.answer },
        at: row.at,
      }));
    }
    case 'schedule':
      return [
        { ...bare, id: 1, kind: 'schedule', at: new Date(nextAfter(when.schedule, now.getTime())) },
      ];
    case 'hand':
      return lastRecords(db, when.list, 'hand');
  }
}

async function lastRecords(db: Database, list: number, kind: string): Promise<Past[]> {
  const rows = await db
    .selectFrom('records')
    .innerJoin('lists', 'lists.id', 'records.list_id')
    .select(['records.id', 'lists.updated_at'])
    .where('list_id', '=', list)
    .orderBy('position', 'desc')
    .limit(lastThings)
    .execute();
  return rows.map((row) => ({
    id: row.id,
    kind,
    change: kind === 'record' ? 'came' : kind === 'scan' ? 'link' : null,
    list_id: list,
    record_id: row.id,
    before: null,
    after: null,
    given: null,
    chain: [],
    at: row.updated_at,
    asIf: true,
  }));
}

/** The last files of the In-tray, or of a folder in it, or one of them by its path. */
async function recentFiles(
  folder: string,
  path: string | undefined,
  most: number,
): Promise<{ given: Record<string, string>; at: Date }[]> {
  const inside = folder === '' ? '' : `${folder.replace(/\/+$/, '')}/`;
  return (await trayFiles())
    .filter((f) => (path === undefined ? f.path.startsWith(inside) : f.path === path))
    .sort((a, b) => b.at.getTime() - a.at.getTime())
    .slice(0, most)
    .map((f) => ({
      given: { name: f.path.split('/').at(-1)!, path: f.path, bytes: String(f.bytes) },
      at: f.at,
    }));
}

/** The key column of a list. */
async function keyOfList(db: Database, list: number): Promise<string | undefined> {
  const found = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirst();
  return keyColumn(found?.columns ?? [])?.id;
}
