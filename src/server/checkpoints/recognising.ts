import { createHash } from 'node:crypto';
import { sql } from 'kysely';
import type { Found } from '../../core/checkpoint/answer';
import {
  differing,
  differsWords,
  insides,
  isOf,
  takeApart,
  swappedCase,
  tidyScan,
  wrapOf,
} from '../../core/checkpoint/recognise';
import { codeIn } from '../../core/links/code';
import { purposeOf } from '../../core/payload/purposes';
import { contentOf, type Stamp, formOf } from '../../core/payload/stamp';
import { isSecret, keyColumn, type Values } from '../../core/records/columns';
import type { Database } from '../platform';
import { proves, type CheckpointAt, type Taken } from './rows';

/** What was scanned, and the record it belongs to. */
export interface Recognised {
  found: Found;
  taken?: Taken;
  record?: number;
  values?: Values;
  /** Differences between the code and the list, if it is let in all the same. */
  differs: string;
}

/** Verdicts store a content like this: short ones as they are, long ones as a hash. */
const printOf = (text: string): string =>
  text.length <= 64 ? text : createHash('sha256').update(text).digest('base64');

interface Printed {
  list_id: number;
  what: string;
  record_id: number;
  values: Values;
}

/** Records whose code has one of these contents now, by the accepted stamps. */
async function saying(
  db: Database,
  at: CheckpointAt,
  texts: readonly string[],
): Promise<{ taken: Taken; stamp: Stamp; record: number; values: Values; text: string }[]> {
  const whats = at.taken.flatMap(({ id, stamps }) =>
    stamps.map((s): [number, string] => [id, `stamp:${s.id}`]),
  );
  if (whats.length === 0 || texts.length === 0) return [];
  const { rows } = await sql<Printed>`
    select p.list_id, p.what, p.record_id, r.values
      from unnest(${whats.map((w) => w[0])}::int[],
      ${whats.map((w) => w[1])}::text[]) as w(list_id, what)
      join prints p on p.list_id = w.list_id and p.what = w.what
        and p.print = any(${texts.map(printOf)}::text[])
      join records r on r.id = p.record_id limit 50`.execute(db);
  return rows.flatMap(({ list_id, what, record_id, values }) =>
    at.taken.flatMap((taken) => {
      if (taken.id !== list_id) return [];
      const stamp = taken.stamps.find((s) => `stamp:${s.id}` === what);
      const text = stamp && texts.find((one) => isOf(stamp, values, one));
      return stamp && text !== undefined ? [{ taken, stamp, record: record_id, values, text }] : [];
    }),
  );
}

/** Identifies a scanned text. */
export async function recognise(db: Database, at: CheckpointAt, raw: string): Promise<Recognised> {
  const texts = [...new Set([raw, tidyScan(raw)])].filter((text) => text !== '');
  const found = await recogniseAs(db, at, texts);
  if (found.found.kind !== 'unknown') return found;
  const again = await recogniseAs(db, at, texts.map(swappedCase));
  return again.found.kind === 'record'
    ? { ...again, differs: [again.differs, swappedWords].filter(Boolean).join('; ') }
    : found;
}

const swappedWords = 'the scanner swaps capital and small letters: turn its Caps Lock off';

async function recogniseAs(
  db: Database,
  at: CheckpointAt,
  texts: readonly string[],
): Promise<Recognised> {
  const said = await saying(db, at, texts);
  const records = new Set(said.map((one) => one.record));
  if (records.size > 1)
    return {
      found: { kind: 'not-certain', why: `${records.size} records have exactly this code` },
      differs: '',
    };
  const [one] = said;
  if (one) return ofRecord(one.taken, one.record, one.values, proves(one.stamp, one.taken.columns));
  return (
    (await byLink(db, at, texts)) ??
    (await byForm(db, at, texts)) ??
    (await byReceipt(db, at, texts)) ?? {
      found: { kind: 'unknown', why: unknownWords(at) },
      differs: '',
    }
  );
}

const unknownWords = (at: CheckpointAt): string =>
  at.taken.length === 0
    ? 'the list of this checkpoint no longer exists'
    : `not a code of ${at.taken.map((t) => t.name).join(' or ')}`;

const ofRecord = (
  taken: Taken,
  record: number,
  values: Values,
  proven: boolean,
  differs = '',
): Recognised => ({
  found: { kind: 'record', take: taken.take, values, columns: taken.columns, proven },
  taken,
  record,
  values,
  differs,
});

/** One of our links, under any address it was printed with. */
async function byLink(
  db: Database,
  at: CheckpointAt,
  texts: readonly string[],
): Promise<Recognised | undefined> {
  const code = texts.map(codeIn).find((c) => c !== undefined);
  if (code === undefined) return undefined;
  const link = await db
    .selectFrom('links')
    .leftJoin('records', 'records.id', 'links.record_id')
    .select(['links.list_id', 'links.record_id', 'links.state', 'links.title', 'records.values'])
    .where('links.code', '=', code)
    .executeTakeFirst();
  const taken = link && at.taken.find((t) => t.id === link.list_id);
  if (!link || !taken) return undefined;
  if (link.state === 'withdrawn')
    return {
      found: { kind: 'withdrawn', why: `the link of ${link.title} was withdrawn` },
      differs: '',
    };
  if (link.values === null || link.record_id === null)
    return {
      found: { kind: 'withdrawn', why: `${link.title} was removed from the list` },
      differs: '',
    };
  return ofRecord(taken, link.record_id, link.values, false);
}

/**
 * A code in the form of one of our stamps, whose record is known by the key in it, and which
 * differs from the list.
 */
async function byForm(
  db: Database,
  at: CheckpointAt,
  texts: readonly string[],
): Promise<Recognised | undefined> {
  for (const taken of at.taken)
    for (const stamp of taken.stamps)
      for (const text of texts) {
        const said = takeApart(formOf(stamp), text);
        const key = keyColumn(taken.columns);
        const wanted = key && said?.[key.id];
        if (!said || !key || wanted === undefined || wanted === '') continue;
        const { rows } = await sql<{ record_id: number; values: Values }>`
          select p.record_id, r.values from prints p join records r on r.id = p.record_id
          where p.list_id = ${taken.id} and p.what = 'key' and p.print = ${printOf(wanted)}
            limit 2`.execute(db);
        const proof = proves(stamp, taken.columns);
        const [row] = rows;
        // a deleted record is known by its receipt
        if (!row || rows.length > 1) continue;
        const { values } = row;
        const differs = differing(said, values, taken.columns);
        const old = contentOf(stamp, { ...values, ...said });
        const right = old.state === 'said' && old.payload === text;
        if (!proof && differs.length === 0 && right)
          return ofRecord(taken, row.record_id, values, false);
        const secret = differs.some(({ column }) =>
          taken.columns.some((c) => c.name === column && isSecret(c, taken.columns)),
        );
        const words = secret ? 'the secret part of the code is wrong' : differsWords(differs);
        // the proof of a worked column is in the list itself: only the one there is right
        if (purposeOf(stamp.does).proves && right && !secret)
          return ofRecord(taken, row.record_id, values, true, words);
        // we printed it like this, before its record was changed
        if (!proof && right && !secret && (await wasPrinted(db, taken.id, text)))
          return ofRecord(taken, row.record_id, values, false, words);
        return {
          found: { kind: 'altered', why: words || 'its proof is wrong' },
          taken,
          record: row.record_id,
          values,
          differs: '',
        };
      }
  return undefined;
}

async function wasPrinted(db: Database, list: number, text: string): Promise<boolean> {
  const { rows } = await sql`
    select 1 from receipts c join runs u on u.id = c.run_id join jobs j on j.id = u.job_id
    where c.payload = ${text} and j.list_id = ${list} limit 1`.execute(db);
  return rows.length > 0;
}

/** A code that we printed and that no record has any more. */
async function byReceipt(
  db: Database,
  at: CheckpointAt,
  texts: readonly string[],
): Promise<Recognised | undefined> {
  const { rows } = await sql<{ list_id: number; title: string; values: Values | null }>`
    select j.list_id, c.title, r.values from receipts c join runs u on u.id = c.run_id
      join jobs j on j.id = u.job_id
      left join records r on r.id = c.record_id
    where c.payload = any(${[...texts]}::text[])
      and j.list_id = any(${at.taken.map((t) => t.id)}::int[])
    order by c.run_id desc limit 1`.execute(db);
  const [row] = rows;
  if (!row) return undefined;
  return {
    found: {
      kind: 'withdrawn',
      why:
        row.values === null
          ? `${row.title} was removed from the list`
          : `${row.title} has a newer code`,
    },
    differs: '',
  };
}

/** The characters a scanner seems to add to each code, if what it sent contains a code of ours. */
export async function wrapSeen(
  db: Database,
  at: CheckpointAt,
  text: string,
): Promise<{ before: string; after: string } | null> {
  const known = await saying(db, at, insides(text));
  return (
    wrapOf(
      text,
      known.map((one) => one.text),
    ) ?? null
  );
}
