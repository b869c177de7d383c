import { sql } from 'kysely';
import type { Thing } from '../../contract';
import { greatest, includes, type Right } from '../../core/access/rights';
import type { Database } from '../platform';
import type { Person } from './who';

/** The list and the jobs that a thing belongs to. */
export interface Belonging {
  list: number | null;
  jobs: number[];
}

const one = (list: number | null | undefined, job?: number): Belonging => ({
  list: list ?? null,
  jobs: job === undefined ? [] : [job],
});

/** The list or job to which each thing belongs. What does not exist belongs nowhere. */
const places: Record<Thing, (db: Database, id: number) => Promise<Belonging>> = {
  list: async (db, id) => {
    const jobs = await db.selectFrom('jobs').select('id').where('list_id', '=', id).execute();
    return { list: id, jobs: jobs.map((job) => job.id) };
  },
  job: async (db, id) => {
    const job = await db
      .selectFrom('jobs')
      .select('list_id')
      .where('id', '=', id)
      .executeTakeFirst();
    return one(job?.list_id, id);
  },
  run: async (db, id) => {
    const run = await db
      .selectFrom('runs')
      .innerJoin('jobs', 'jobs.id', 'runs.job_id')
      .select(['jobs.id', 'jobs.list_id'])
      .where('runs.id', '=', id)
      .executeTakeFirst();
    return one(run?.list_id, run?.id);
  },
  file: async (db, id) => {
    const file = await db
      .selectFrom('files')
      .innerJoin('runs', 'runs.id', 'files.run_id')
      .innerJoin('jobs', 'jobs.id', 'runs.job_id')
      .select(['jobs.id', 'jobs.list_id'])
      .where('files.id', '=', id)
      .executeTakeFirst();
    return one(file?.list_id, file?.id);
  },
  intake: async (db, id) => {
    const intake = await db
      .selectFrom('intakes')
      .select('list_id')
      .where('id', '=', id)
      .executeTakeFirst();
    return one(intake?.list_id);
  },
  document: async (db, id) => {
    const { rows } = await sql<{ id: number; list_id: number }>`
      select j.id, j.list_id from jobs j join documents d on d.id = ${id}
      where (j.document->'piece'->'ground'->>'document')::int = d.id
        or (j.document->'piece'->'ground'->>'set')::int = d.set_id
      order by j.id`.execute(db);
    return { list: rows[0]?.list_id ?? null, jobs: rows.map((row) => row.id) };
  },
};

export const belongingOf = (db: Database, thing: Thing, id: number): Promise<Belonging> =>
  places[thing](db, id);

/** A person's right to a thing: their role, or what is shared with them. */
export async function rightOn(
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
  thing: Thing,
  { list, jobs }: Belonging,
): Promise<Right> {
  if (includes(person.right, 'editor')) return person.right;
  const shares = await db
    .selectFrom('shares')
    .select(['right', 'list_id'])
    .where('person_id', '=', person.id)
    .where((e) => e.or([e('list_id', '=', list ?? -1), e('job_id', 'in', [...jobs, -1])]))
    .execute();
  // a person who sees one job also sees its list, and may change the list only if the list itself
  // is shared that way
  return greatest([
    person.right,
    ...shares.map((s) => (thing === 'list' && s.list_id === null ? ('viewer' as const) : s.right)),
  ]);
}

/** A person's right to a thing, by its number. */
export const rightOver = async (
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
  thing: Thing,
  id: number,
): Promise<Right> => rightOn(db, person, thing, await belongingOf(db, thing, id));

/** Which of some lists a person may change (or a job of them), and so see secrets in. */
export async function mayChange(
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
  lists: readonly number[],
): Promise<ReadonlySet<number>> {
  if (includes(person.right, 'editor')) return new Set(lists);
  const shares = await db
    .selectFrom('shares')
    .leftJoin('jobs', 'jobs.id', 'shares.job_id')
    .select(['shares.list_id', 'jobs.list_id as of'])
    .where('person_id', '=', person.id)
    .where('right', '=', 'editor')
    .execute();
  const may = new Set(shares.flatMap((share) => share.list_id ?? share.of ?? []));
  return new Set(lists.filter((list) => may.has(list)));
}

/** The lists and jobs that a person sees; undefined if that is all of them. */
export async function seenBy(
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
): Promise<{ lists: ReadonlySet<number>; jobs: ReadonlySet<number> } | undefined> {
  if (includes(person.right, 'viewer')) return undefined;
  const shares = await db
    .selectFrom('shares')
    .select(['list_id', 'job_id'])
    .where('person_id', '=', person.id)
    .execute();
  const lists = new Set(shares.flatMap((s) => s.list_id ?? []));
  const jobs = await db
    .selectFrom('jobs')
    .select(['id', 'list_id'])
    .where((e) =>
      e.or([
        e('list_id', 'in', [...lists, -1]),
        e('id', 'in', [...shares.flatMap((s) => s.job_id ?? []), -1]),
      ]),
    )
    .execute();
  return {
    lists: new Set([...lists, ...jobs.map((job) => job.list_id)]),
    jobs: new Set(jobs.map((job) => job.id)),
  };
}
