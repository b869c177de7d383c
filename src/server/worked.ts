import { sql } from 'kysely';
import { z } from 'zod';
import type { Column } from '../core/records/columns';
import { sourcesOf, withWorked, workedSchema } from '../core/records/worked';
import type { Database } from './db';
import { rejudge } from './judge';
import { nextRevision } from './lists';
import { Refusal } from './refusal';
import { randomText } from './secret';

export const workedColumnSchema = z.object({
  /** Left out for a new column. */
  id: z.string().max(40).optional(),
  name: z.string().trim().min(1, 'Give the column a name.').max(120),
  worked: workedSchema,
});

const batch = 2000;

/** Adds a worked column or changes one, and works it out for every record. Returns its id. */
export async function keepWorkedColumn(
  db: Database,
  listId: number,
  wanted: z.infer<typeof workedColumnSchema>,
  actor: string,
): Promise<string> {
  const id = await db.transaction().execute(async (tx) => {
    const list = await tx.selectFrom('lists').select('columns').where('id', '=', listId).forUpdate().executeTakeFirstOrThrow();
    const at = wanted.id === undefined ? list.columns.length : list.columns.findIndex((c) => c.id === wanted.id);
    if (at < 0 || (wanted.id !== undefined && !list.columns[at].worked)) throw new Refusal('That column is not here any more.', 404);
    const others = list.columns.filter((c) => c.id !== wanted.id);
    if (others.some((c) => c.name.toLowerCase() === wanted.name.toLowerCase()))
      throw new Refusal(`There is a column called ${wanted.name} already. Give this one another name.`);
    const before = new Set(list.columns.slice(0, at).map((c) => c.id));
    if (sourcesOf(wanted.worked).some((source) => !before.has(source)))
      throw new Refusal('A worked column can use columns that stand before it, and this one uses another.');
    const next: Column = {
      id: wanted.id ?? freshId(list.columns),
      name: wanted.name,
      role: list.columns[at]?.role ?? 'text',
      worked: wanted.worked,
    };
    await keepColumns(tx, listId, [...list.columns.slice(0, at), next, ...list.columns.slice(at + 1)], `${wanted.name} worked out`, actor);
    return next.id;
  });
  await judgeJobs(db, listId);
  return id;
}

/** Takes a worked column away, unless another column or a stamp is made from it. */
export async function removeWorkedColumn(db: Database, listId: number, id: string, actor: string): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const list = await tx.selectFrom('lists').select('columns').where('id', '=', listId).forUpdate().executeTakeFirstOrThrow();
    const column = list.columns.find((c) => c.id === id && c.worked);
    if (!column) throw new Refusal('That column is not here any more.', 404);
    const user = list.columns.find((c) => c.worked && sourcesOf(c.worked).includes(id));
    if (user) throw new Refusal(`${user.name} is worked out from ${column.name}. Change that one first.`);
    const jobs = await tx.selectFrom('jobs').select(['name', 'document']).where('list_id', '=', listId).execute();
    const job = jobs.find((j) => JSON.stringify(j.document).includes(`"column":"${id}"`));
    if (job) throw new Refusal(`${job.name} uses ${column.name}. Take it out of its stamps and its piece first.`);
    await keepColumns(
      tx,
      listId,
      list.columns.filter((c) => c.id !== id),
      `${column.name} taken away`,
      actor,
    );
  });
  await judgeJobs(db, listId);
}

function freshId(columns: readonly Column[]): string {
  const numbers = columns.map((c) => Number(/^w(\d+)$/.exec(c.id)?.[1] ?? 0));
  return `w${Math.max(0, ...numbers) + 1}`;
}

/** Keeps the columns and works all records out anew. */
async function keepColumns(db: Database, listId: number, columns: readonly Column[], note: string, actor: string): Promise<void> {
  await db
    .updateTable('lists')
    .set({ columns: JSON.stringify(columns) })
    .where('id', '=', listId)
    .execute();
  for (let after = -1; ;) {
    const records = await db
      .selectFrom('records')
      .select(['id', 'position', 'values'])
      .where('list_id', '=', listId)
      .where('position', '>', after)
      .orderBy('position')
      .limit(batch)
      .execute();
    if (records.length > 0) {
      const values = records.map((r) => JSON.stringify(withWorked(columns, r.values, { position: r.position, secret: randomText })));
      await sql`update records r set values = n.values from unnest(${records.map((r) => r.id)}::bigint[], ${values}::json[]) as n(id, values) where r.id = n.id`.execute(
        db,
      );
    }
    if (records.length < batch) break;
    after = records.at(-1)!.position;
  }
  await nextRevision(db, listId, 'edit', note, actor);
}

async function judgeJobs(db: Database, listId: number): Promise<void> {
  for (const { id } of await db.selectFrom('jobs').select('id').where('list_id', '=', listId).execute()) await rejudge(db, id);
}
