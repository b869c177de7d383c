import { sql } from 'kysely';
import type { ListSummary } from '../../contract';
import type { Database } from '../platform';

/** All lists with their source, their state, and their jobs. */
/** @param only what the person who asks may see; everything if undefined */
export async function listLists(
  db: Database,
  only?: { lists: ReadonlySet<number>; jobs: ReadonlySet<number> },
): Promise<ListSummary[]> {
  const all = await db
    .selectFrom('lists')
    .select(['id', 'name', 'source', 'origin', 'updated_at', 'stamps'])
    .select((e) => [
      e
        .selectFrom('records')
        .select(sql<number>`count(*)`.as('n'))
        .whereRef('records.list_id', '=', 'lists.id')
        .as('records'),
      e
        .selectFrom('problems')
        .select(sql<number>`count(distinct record_id)`.as('n'))
        .whereRef('problems.list_id', '=', 'lists.id')
        .as('problems'),
      e
        .selectFrom('revisions')
        .select(sql<number>`count(*)`.as('n'))
        .whereRef('revisions.list_id', '=', 'lists.id')
        .as('revisions'),
    ])
    .orderBy(sql`lower(name)`)
    .execute();
  const lists = only ? all.filter((list) => only.lists.has(list.id)) : all;
  const allJobs = await db
    .selectFrom('jobs')
    .select(['id', 'name', 'list_id'])
    .orderBy('name')
    .execute();
  const jobs = only ? allJobs.filter((job) => only.jobs.has(job.id)) : allJobs;
  // people with shared lists only do not see what others made of them
  const checkpoints = only
    ? []
    : await db.selectFrom('checkpoints').select(['name', 'rule']).orderBy('name').execute();
  const orders = only
    ? []
    : await db.selectFrom('standing_orders').select(['name', 'list_id']).orderBy('name').execute();
  return lists.map((list) => ({
    id: list.id,
    name: list.name,
    source: list.source,
    kind: list.origin?.kind ?? 'file',
    records: list.records ?? 0,
    problems: list.problems ?? 0,
    revisions: list.revisions ?? 0,
    stamps: list.stamps.map((s) => s.name),
    updated: list.updated_at.toISOString(),
    jobs: jobs.filter((j) => j.list_id === list.id).map(({ id, name }) => ({ id, name })),
    checkpoints: checkpoints
      .filter(({ rule }) => rule.takes.some((take) => take.list === list.id))
      .map(({ name }) => name),
    orders: orders.filter((o) => o.list_id === list.id).map(({ name }) => name),
  }));
}

/** The lists and their columns, for a worked column that looks something up in another list. */
export const listLookups = (db: Database) =>
  db.selectFrom('lists').select(['id', 'name', 'columns']).orderBy('name').execute();
