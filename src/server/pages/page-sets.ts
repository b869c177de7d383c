import { sql } from 'kysely';
import type { PageSetView } from '../../contract';
import { firstPages, showable, type PageSetDocument } from '../../core/links/pages';
import type { Column } from '../../core/records/columns';
import { columnsIn } from '../../core/records/parts';
import { type Database, Refusal } from '../platform';
import { keepWorkedColumn } from '../lists';

const pageColumn = (columns: readonly Column[]): Column | undefined =>
  columns.find((c) => c.worked?.source.kind === 'page');

/** What the pages of a list show, and how many there are. @param record whose page is the sample; the first where it is left out */
export async function viewPages(db: Database, list: number, record?: number): Promise<PageSetView> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirstOrThrow();
  const set = await db
    .selectFrom('page_sets')
    .selectAll()
    .where('list_id', '=', list)
    .executeTakeFirst();
  const column = pageColumn(columns);
  if (!set || !column) return { pages: null };
  const { rows } = await sql<{ count: number; gone: number; printed: number }>`
    select count(r.id)::int as count, (count(*) - count(r.id))::int as gone,
      count(*) filter (where r.id is null and exists (
        select from receipts c where c.record_id = p.record_id and c.payload like '%/r/' || p.id))::int as printed
    from record_pages p left join records r on r.id = p.record_id where p.list_id = ${list}`.execute(
    db,
  );
  const sample = await sql<{ address: string }>`
    select values->>${column.id} as address from records where list_id = ${list} ${record === undefined ? sql`` : sql`and id = ${record}`}
    order by position limit 1`.execute(db);
  return {
    pages: {
      document: set.document,
      version: set.version,
      by: set.changed_by,
      at: set.changed_at.toISOString(),
      column: column.name,
      count: rows[0]!.count,
      gone: rows[0]!.gone,
      gonePrinted: rows[0]!.printed,
      sample: sample.rows[0]?.address || null,
    },
  };
}

/** A name that no column has. */
function freeName(columns: readonly Column[], wanted: string): string {
  const taken = new Set(columns.map((c) => c.name.toLowerCase()));
  for (let n = 1; ; n++) {
    const name = n === 1 ? wanted : `${wanted} ${n}`;
    if (!taken.has(name.toLowerCase())) return name;
  }
}

/**
 * Gives every record of a list a page, those that come later too: the address stands in a column. What it shows to anyone is its name alone,
 * until somebody says more. Nothing is changed where they have pages already.
 */
export async function startPages(db: Database, list: number, actor: string): Promise<PageSetView> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirstOrThrow();
  await db
    .insertInto('page_sets')
    .values({ list_id: list, document: JSON.stringify(firstPages(columns)), changed_by: actor })
    .onConflict((c) => c.doNothing())
    .execute();
  if (!pageColumn(columns))
    await keepWorkedColumn(
      db,
      list,
      { name: freeName(columns, 'Own page'), worked: { source: { kind: 'page' }, steps: [] } },
      actor,
      (now) => pageColumn(now)?.id,
    );
  return viewPages(db, list);
}

/**
 * Says what the pages of a list show.
 * @throws Refusal where it was said anew meanwhile (409), or where something secret would be shown
 */
export async function changePages(
  db: Database,
  list: number,
  { version, document }: { version: number; document: PageSetDocument },
  actor: string,
): Promise<PageSetView> {
  const { columns } = await db
    .selectFrom('lists')
    .select('columns')
    .where('id', '=', list)
    .executeTakeFirstOrThrow();
  const may = new Set(showable(columns).map((c) => c.id));
  const used = [
    ...columnsIn(document.title),
    ...document.shown.map((s) => s.column),
    ...(document.picture === null ? [] : [document.picture]),
  ];
  const wrong = used.find((id) => !may.has(id));
  if (wrong !== undefined) {
    const column = columns.find((c) => c.id === wrong);
    throw new Refusal(
      column
        ? `${column.name} is secret or hidden, so no page shows it.`
        : 'A column in it is not there any more. Choose it again.',
    );
  }
  const { numUpdatedRows } = await db
    .updateTable('page_sets')
    .set((e) => ({
      document: JSON.stringify(document),
      version: e('version', '+', 1),
      changed_by: actor,
      changed_at: new Date(),
    }))
    .where('list_id', '=', list)
    .where('version', '=', version)
    .executeTakeFirstOrThrow();
  if (numUpdatedRows === 0n)
    throw new Refusal(
      'What the pages show was said anew in another window just now. Here it is as it is now; say it again if you still want it.',
      409,
    );
  return viewPages(db, list);
}
