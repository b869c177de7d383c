import { sql } from 'kysely';
import type { PageSetView } from '../../contract';
import { firstPages, showable, type PageSetDocument } from '../../core/links/pages';
import type { Column } from '../../core/records/columns';
import { holdsPages, ownPage } from '../../core/records/beginnings';
import { columnsIn } from '../../core/records/parts';
import { freeName } from '../../core/run/names';
import { clock, type Database, Refusal } from '../platform';
import { keepWorkedColumn } from '../lists';

const pageColumn = (columns: readonly Column[]): Column | undefined => columns.find(holdsPages);

/**
 * What the pages of a list show, and how many there are. @param record whose page is the sample;
 * the first by default
 */
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
        select from receipts c
          where c.record_id = p.record_id and c.payload like '%/r/' || p.id))::int as printed
    from record_pages p left join records r on r.id = p.record_id
      where p.list_id = ${list}`.execute(db);
  const sample = await sql<{ address: string }>`
    select values->>${column.id} as address from records
      where list_id = ${list} ${record === undefined ? sql`` : sql`and id = ${record}`}
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

/**
 * Gives every record of a list a page, also later records; the address is in a column. Anyone sees
 * only the title until more is chosen. Does nothing if they have pages already.
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
      {
        name: freeName(
          'Own page',
          columns.map((c) => c.name),
        ),
        worked: { source: ownPage, steps: [] },
      },
      actor,
      (now) => pageColumn(now)?.id,
    );
  return viewPages(db, list);
}

const usedIn = ({ title, shown, picture }: PageSetDocument): string[] => [
  ...columnsIn(title),
  ...shown.map((s) => s.column),
  ...(picture === null ? [] : [picture]),
];

const onlyOf = (document: PageSetDocument, may: ReadonlySet<string>): PageSetDocument => ({
  ...document,
  title: document.title.filter((part) => part.kind === 'text' || may.has(part.column)),
  shown: document.shown.filter((s) => may.has(s.column)),
  picture: document.picture !== null && may.has(document.picture) ? document.picture : null,
});

/**
 * Sets what the pages of a list show.
 * @throws Refusal if it was changed in the meantime (409), or would show a secret
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
  const before = await db
    .selectFrom('page_sets')
    .select('document')
    .where('list_id', '=', list)
    .executeTakeFirstOrThrow();
  const known = new Set(usedIn(before.document));
  const wrong = usedIn(document).find((id) => !may.has(id) && !known.has(id));
  if (wrong !== undefined) {
    const column = columns.find((c) => c.id === wrong);
    throw new Refusal(
      column
        ? `${column.name} is secret or hidden, so no page shows it.`
        : 'A column in it no longer exists. Choose another.',
    );
  }
  const { numUpdatedRows } = await db
    .updateTable('page_sets')
    .set((e) => ({
      // columns that became secret or were deleted since are removed with the next change
      document: JSON.stringify(onlyOf(document, may)),
      version: e('version', '+', 1),
      changed_by: actor,
      changed_at: clock.date(),
    }))
    .where('list_id', '=', list)
    .where('version', '=', version)
    .executeTakeFirstOrThrow();
  if (numUpdatedRows === 0n)
    throw new Refusal(
      'Someone changed what the pages show in another window. You now see their version. Make your change again if you still want it.',
      409,
    );
  return viewPages(db, list);
}
