import { sql } from 'kysely';
import type { FoundPlaces } from '../../contract';
import { findPlaces, weigher, type DocumentFacts } from '../../core/documents';
import type { DocumentPlace } from '../../core/piece/piece';
import { isSecret, titleColumn, type Column, type Values } from '../../core/records/columns';
import { type Database, Refusal } from '../platform';
import { viewDocument } from './keeping';

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

/** Finds for which record of a job an example was written, unless that is said, and the places where its values stand. */
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

/** The record of which most stands in a document; none where nothing of any does. */
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

/** Finds which record of another list a table row was written for, how that list names our record, and the places in the row. */
export async function findInRow(
  db: Database,
  jobId: number,
  asked: {
    document: number;
    part: string;
    row: number;
    list: number;
    record: number;
    by?: string;
  },
): Promise<{ match: { by: string; is: string } | null; goes: number; places: DocumentPlace[] }> {
  const [own, other, { facts }] = await Promise.all([
    listOf(db, jobId),
    db
      .selectFrom('lists')
      .select(['id', 'columns'])
      .where('id', '=', asked.list)
      .executeTakeFirstOrThrow(),
    viewDocument(db, asked.document),
  ]);
  const row = facts.rows.find((r) => r.part === asked.part && r.number === asked.row);
  if (!row) throw new Refusal('The document has no such table row.');
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
  const textOf = (paragraphs: readonly number[]) => ({
    part: asked.part,
    paragraphs: facts.texts
      .find((t) => t.part === asked.part)!
      .paragraphs.map((words, i) => (paragraphs.includes(i) ? words : '')),
  });
  // among the rows that belong to our record, else among all
  const belonging = match
    ? await rowsFor(db, asked.list, match.by, record.values[match.is] ?? '')
    : [];
  const weigh = weigher([textOf(row.paragraphs)], columns);
  const bestOf = (rows: readonly Values[]) =>
    rows.reduce<{ values?: Values; weight: number }>(
      (best, values) => {
        const weight = weigh(values);
        return weight > best.weight ? { values, weight } : best;
      },
      { weight: 0 },
    ).values;
  const written = bestOf(belonging);
  if (!written) return { match, goes: 0, places: [] };
  // rows after it that hold what stands of the others are more of the same
  let goes = 0;
  for (const next of facts.rows.filter(
    (r) => r.part === asked.part && r.table === row.table && r.number > row.number,
  )) {
    if (next.number !== row.number + goes + 1) break;
    const weighNext = weigher([textOf(next.paragraphs)], columns);
    if (!belonging.some((values) => values !== written && weighNext(values) > 0)) break;
    goes++;
  }
  return {
    match,
    goes,
    places: findPlaces([textOf(row.paragraphs)], columns, written).map((place, i) => ({
      ...place,
      likely: undefined,
      id: `row-${asked.row}-${i + 1}`,
    })),
  };
}

/** The column of another list that holds a value of our record, the key first, and of which column that value is. */
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

/** Records of a list whose column says a value, in their order. */
export async function rowsFor(
  db: Database,
  list: number,
  by: string,
  value: string,
  most = 500,
): Promise<Values[]> {
  if (value.trim() === '') return [];
  const rows = await db
    .selectFrom('records')
    .select('values')
    .where('list_id', '=', list)
    .where(sql<string>`trim(values->>${by})`, '=', value.trim())
    .orderBy('position')
    .limit(most)
    .execute();
  return rows.map((r) => r.values);
}
