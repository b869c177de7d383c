import { sql } from 'kysely';
import type { FoundPlaces } from '../../contract';
import { findPlaces, mostRows, weigher, type DocumentFacts } from '../../core/documents';
import type { DocumentPlace } from '../../core/piece/ground';
import { isSecret, titleColumn, type Column, type Values } from '../../core/records/columns';
import { type Database, Refusal } from '../platform';
import { blockInside, viewDocument } from './keeping';

const batch = 2000;

async function listOf(db: Database, jobId: number) {
  return db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['lists.id', 'lists.columns'])
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
}

const open = (columns: readonly Column[]) => columns.filter((c) => !isSecret(c, columns));

/**
 * Finds the record for which an example was written, unless it is given, and the places of its
 * values.
 */
export async function findInDocument(
  db: Database,
  jobId: number,
  { document, record }: { document: number; record?: number },
): Promise<FoundPlaces> {
  const [list, { facts }] = await Promise.all([listOf(db, jobId), viewDocument(db, document)]);
  const columns = open(list.columns);
  const found =
    record === undefined
      ? await likeliest(db, list.id, columns, facts)
      : await db
          .selectFrom('records')
          .select(['id', 'values'])
          .where('id', '=', record)
          .where('list_id', '=', list.id)
          .executeTakeFirstOrThrow();
  if (!found) return { writtenFor: null, places: [] };
  const title = titleColumn(list.columns);
  return {
    writtenFor: { record: found.id, title: (title && found.values[title.id]) ?? '' },
    places: findPlaces(facts.texts, columns, found.values),
  };
}

/** The record most of whose values are in a document; none if no record has any. */
async function likeliest(
  db: Database,
  list: number,
  columns: readonly Column[],
  facts: DocumentFacts,
): Promise<{ id: number; values: Values } | undefined> {
  const weigh = weigher(facts.texts, columns);
  let best: { id: number; values: Values } | undefined;
  let most = 0;
  for (let after = -1; ;) {
    const records = await db
      .selectFrom('records')
      .select(['id', 'position', 'values'])
      .where('list_id', '=', list)
      .where('position', '>', after)
      .orderBy('position')
      .limit(batch)
      .execute();
    for (const record of records) {
      const weight = weigh(record.values);
      if (weight > most) [most, best] = [weight, record];
    }
    if (records.length < batch) return best;
    after = records.at(-1)!.position;
  }
}

/** Most of the example that goes with one block. */
const mostGoes = 900;

interface BlockAsked {
  document: number;
  part: string;
  row?: number;
  cell?: number;
  lines?: { from: number; to: number };
  list: number;
  record: number;
  by?: string;
}
type InRow = {
  match: { by: string; is: string } | null;
  goes: number;
  places: DocumentPlace[];
  paragraphs: number[];
  pictures: number[];
};

/**
 * Finds which record of another list something of the example was written for, how that list names
 * our record, and the places in it.
 */
export async function findInRow(db: Database, jobId: number, asked: BlockAsked): Promise<InRow> {
  const [own, other, { facts, kind }] = await Promise.all([
    listOf(db, jobId),
    db
      .selectFrom('lists')
      .select(['id', 'columns'])
      .where('id', '=', asked.list)
      .executeTakeFirstOrThrow(),
    viewDocument(db, asked.document),
  ]);
  const { paragraphs, after } = spotOf(facts, asked);
  const record = await db
    .selectFrom('records')
    .select('values')
    .where('id', '=', asked.record)
    .where('list_id', '=', own.id)
    .executeTakeFirstOrThrow();
  const columns = open(other.columns);
  const match =
    asked.by !== undefined && asked.list === own.id
      ? { by: asked.by, is: asked.by }
      : await matchOf(db, own.columns, record.values, asked.list, columns);
  const textOf = (among: readonly number[]) => ({
    part: asked.part,
    paragraphs: facts.texts
      .find((t) => t.part === asked.part)!
      .paragraphs.map((words, i) => (among.includes(i) ? words : '')),
  });
  // among the rows that belong to our record, else among all
  const belonging = match
    ? await rowsFor(db, asked.list, match.by, record.values[match.is] ?? '')
    : [];
  const weigh = weigher([textOf(paragraphs)], columns);
  const written = belonging.reduce<{ values?: Values; weight: number }>(
    (best, values) => {
      const weight = weigh(values);
      return weight > best.weight ? { values, weight } : best;
    },
    { weight: 0 },
  ).values;
  let goes = 0;
  for (const next of after) {
    // a table that is filled cell by cell is filled to its end
    if (asked.cell === undefined) {
      if (!written) break;
      const weighNext = weigher([textOf(next)], columns);
      if (!belonging.some((values) => values !== written && weighNext(values) > 0)) break;
    }
    goes += asked.lines ? next.length : 1;
    if (goes >= mostGoes) break;
  }
  const { id, part, row, cell, lines } = { id: '', ...asked };
  const block = {
    ...{ id, part, row, cell, lines, goes, list: asked.list },
    ...(match ?? { by: '', is: '' }),
  };
  const inside = await blockInside(db, asked.document, kind, block);
  const places = written ? findPlaces([textOf(paragraphs)], columns, written) : [];
  return {
    match,
    goes,
    places: places.map((place, i) => ({
      ...place,
      likely: place.among ? true : undefined,
      id: `row-${i + 1}`,
    })),
    paragraphs: inside.paragraphs,
    pictures: [...inside.pictures],
  };
}

/**
 * The paragraphs of a repeated part, and those after it that could be more of the same, one after
 * another.
 */
function spotOf(
  facts: DocumentFacts,
  { part, row: number, cell, lines }: BlockAsked,
): { paragraphs: number[]; after: number[][] } {
  const missing = () =>
    new Refusal('The document has no such row or lines. Choose again in the document.');
  if (lines) {
    const count = facts.texts.find((t) => t.part === part)?.paragraphs.length ?? 0;
    if (lines.to < lines.from || lines.to >= count) throw missing();
    const length = lines.to - lines.from + 1;
    const stretch = (from: number) => Array.from({ length }, (_, i) => from + i);
    const after: number[][] = [];
    for (let from = lines.to + 1; from + length <= count; from += length) after.push(stretch(from));
    return { paragraphs: stretch(lines.from), after };
  }
  const row = facts.rows.find((r) => r.part === part && r.number === number);
  const paragraphs = cell === undefined ? row?.paragraphs : row?.cells?.[cell];
  if (!row || !paragraphs) throw missing();
  const after: number[][] = [];
  for (const next of facts.rows)
    if (next.part === part && next.table === row.table && next.number > row.number) {
      if (next.number !== row.number + after.length + 1) break;
      if (cell !== undefined && next.cells?.length !== row.cells!.length) break;
      after.push(next.paragraphs);
    }
  return { paragraphs, after };
}

/**
 * The column of another list that holds a value of our record, the key first, and of which column
 * that value is.
 */
async function matchOf(
  db: Database,
  columns: readonly Column[],
  values: Values,
  list: number,
  others: readonly Column[],
): Promise<{ by: string; is: string } | null> {
  const order = (c: Column) => (c.role === 'key' ? 0 : c.role === 'name' ? 1 : 2);
  for (const is of [...open(columns)].sort((a, b) => order(a) - order(b))) {
    const value = (values[is.id] ?? '').trim();
    if (value.length < 2) continue;
    for (const by of others)
      if ((await rowsFor(db, list, by.id, value, 1)).length > 0) return { by: by.id, is: is.id };
  }
  return null;
}

/** Records of a list whose column has a value, in their order; all if no column is given. */
export async function rowsFor(
  db: Database,
  list: number,
  by: string,
  value: string,
  most = mostRows,
): Promise<Values[]> {
  if (by !== '' && value.trim() === '') return [];
  let query = db.selectFrom('records').select('values').where('list_id', '=', list);
  if (by !== '') query = query.where(sql<string>`trim(values->>${by})`, '=', value.trim());
  const rows = await query.orderBy('position').limit(most).execute();
  return rows.map((r) => r.values);
}
