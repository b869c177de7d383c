import { sql, type RawBuilder } from 'kysely';
import { keyOf } from '../../core/documents/keys';
import { pdfKey, type PdfOfRecord } from '../../core/grounds';
import { mostRows, rowsKey } from '../../core/documents';
import { documentGround, type Piece } from '../../core/piece/model';
import type { DocumentBlock, DocumentGround, PdfsGround } from '../../core/piece/ground';
import { isSecret, type Values } from '../../core/records/columns';
import type { PdfFacts } from '../../core/documents/pdf';
import { columnsOf, type Database } from '../platform';

interface Kept {
  id: number;
  values: Values;
}

const keyColumns = {
  name: 'name_keys',
  title: 'title_keys',
  text: 'text_keys',
  code: 'code_keys',
} as const;

/**
 * Which PDFs of a set may belong to each of these records, by record number: those that a person
 * assigned, else those that contain the record's value. Records without a PDF are missing.
 */
export async function documentsFor(
  db: Database,
  ground: PdfsGround,
  records: readonly Kept[],
): Promise<Map<number, Set<number>>> {
  const keys = new Map<string, number[]>();
  for (const { id, values } of records) {
    const key = keyOf(values[ground.column] ?? '');
    if (key.length >= 2) keys.set(key, [...(keys.get(key) ?? []), id]);
  }
  const said = new Map(ground.said.map((s) => [s.document, s.record]));
  const column = sql.ref(keyColumns[ground.knownBy]);
  if (records.length === 0) return new Map();
  // of the whole list, not only of these records: the owner of a document must not depend on which
  // records are checked together
  const all = await sql<{ value: string | null }>`
    select distinct values->>${ground.column} as value from records
    where list_id = (select list_id from records where id = ${records[0]!.id})`.execute(db);
  const wanted = [...new Set(all.rows.map(({ value }) => keyOf(value ?? '')))].filter(
    (key) => key.length >= 2,
  );
  const found = await sql<{ id: number; key: string | null }>`
    select d.id, k.key from documents d
    left join lateral (
      select u.key from unnest(d.${column}) as u(key)
        join unnest(${wanted}::text[]) as w(key) on w.key = u.key) k on true
    where d.set_id = ${ground.set} and (k.key is not null or d.id = any(${[...said.keys()]}::int[]))
    order by d.name, length(k.key) desc`.execute(db);
  const of = new Map<number, Set<number>>();
  const here = new Set(records.map((r) => r.id));
  // a document that a person assigned goes before those that only contain the key
  const given = new Set(ground.said.flatMap((s) => s.record ?? []));
  const give = (record: number, document: number) => {
    if (here.has(record)) of.set(record, (of.get(record) ?? new Set<number>()).add(document));
  };
  // if a document contains several keys, the longest counts: “L-1” is also in “L-1-2”
  const longest = new Map<number, string>();
  for (const { id, key } of found.rows) {
    const own = said.get(id);
    if (own !== undefined) {
      if (own !== null) give(own, id);
      continue;
    }
    if (key === null || (longest.get(id) ?? key).length > key.length) continue;
    longest.set(id, key);
    for (const record of keys.get(key) ?? []) if (!given.has(record)) give(record, id);
  }
  return of;
}

/** The PDF of each of these records. Records without one are missing. */
export async function pdfsFor(
  db: Database,
  ground: PdfsGround,
  records: readonly Kept[],
): Promise<Map<number, PdfOfRecord>> {
  const of = await documentsFor(db, ground, records);
  const documents = [...new Set([...of.values()].flatMap((ids) => [...ids]))];
  if (documents.length === 0) return new Map();
  const rows = await db
    .selectFrom('documents')
    .select(['id', 'name', 'facts'])
    .where('id', 'in', documents)
    .execute();
  const byId = new Map(rows.map((row) => [row.id, row]));
  return new Map(
    [...of].map(([record, ids]) => {
      // of several, the latest; that there are several is reported
      const { id, name, facts } = byId.get(Math.max(...ids))!;
      const { pages, signed } = facts as PdfFacts;
      return [record, { document: id, name, pages, signed, of: ids.size }];
    }),
  );
}

/**
 * The values of records with what a piece needs beside them: each one's PDF, or the rows of other
 * lists that belong to each.
 */
export async function valuesBeside(
  db: Database,
  piece: Piece,
  records: readonly Kept[],
): Promise<Values[]> {
  const document = documentGround(piece);
  if (document) return rowsBeside(db, document, records);
  if (piece.ground?.kind !== 'pdfs') return records.map((r) => r.values);
  const found = await pdfsFor(db, piece.ground, records);
  return records.map(({ id, values }) => {
    const pdf = found.get(id);
    return pdf ? { ...values, [pdfKey]: JSON.stringify(pdf) } : values;
  });
}

/**
 * Rows of a block's list by the value that says whose they are: one more than a document may hold,
 * so that too many can be noticed. Secrets of that list stay there.
 * @param wanted only these values
 */
export async function rowsByValue(
  db: Database,
  { list, by }: Pick<DocumentBlock, 'list' | 'by'>,
  wanted?: readonly string[],
): Promise<RawBuilder<{ value: string; values: Values; position: number }>> {
  const columns = await columnsOf(db, list);
  const secret = columns.filter((c) => isSecret(c, columns)).map((c) => c.id);
  return sql`
  select * from (
    select trim(values->>${by}) as value, values::jsonb - ${secret}::text[] as values,
      position,
      row_number() over (partition by trim(values->>${by}) order by position) as nth
    from records where list_id = ${list} and trim(values->>${by}) <> ''
      and ${wanted ? sql`trim(values->>${by}) = any(${[...wanted]}::text[])` : sql`true`}) numbered
        where nth <= ${mostRows + 1}`;
}

/**
 * Rows of the job's own list belong to no single record: who shares a document is known when a run
 * is frozen.
 */
async function rowsBeside(
  db: Database,
  ground: DocumentGround,
  records: readonly Kept[],
): Promise<Values[]> {
  const own = records.map((r) => ({ ...r.values }));
  if (ground.blocks.length === 0 || records.length === 0) return own;
  const { list_id: list } = await db
    .selectFrom('records')
    .select('list_id')
    .where('id', '=', records[0]!.id)
    .executeTakeFirstOrThrow();
  for (const block of ground.blocks) {
    if (block.list === list) continue;
    const wanted = own.map((values) => (values[block.is] ?? '').trim());
    const found = await sql<{ value: string; rows: string }>`
      select value, json_agg(values order by position)::text as rows
      from (${await rowsByValue(db, block, [...new Set(wanted)])}) b group by 1`.execute(db);
    const rows = new Map(found.rows.map((row) => [row.value, row.rows]));
    own.forEach((values, i) => (values[rowsKey(block)] = rows.get(wanted[i]!) ?? '[]'));
  }
  return own;
}
