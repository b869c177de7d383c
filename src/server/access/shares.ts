import type { SharesView } from '../../contract';
import { includes, rightWords, type SharedRight } from '../../core/access/rights';
import { type Database, Refusal } from '../platform';
import type { Person } from './who';

/** The shared thing: a list with all its jobs, or one job. */
export type Shared = { list: number } | { job: number };

const of = (shared: Shared) =>
  'list' in shared ? { list_id: shared.list, job_id: null } : { list_id: null, job_id: shared.job };
const column = (shared: Shared) => ('list' in shared ? 'list_id' : 'job_id');
const number = (shared: Shared) => ('list' in shared ? shared.list : shared.job);

/**
 * The people with whom something is shared, and those with whom it could be. A person who has it by
 * a share sees only the names of the others who have it.
 */
export async function sharesOf(
  db: Database,
  shared: Shared,
  viewer: Pick<Person, 'right'>,
): Promise<SharesView> {
  const all = includes(viewer.right, 'editor');
  const people = await db
    .selectFrom('people')
    .select(['id', 'name', 'email', 'right'])
    .where('ended', '=', false)
    .orderBy('name')
    .execute();
  const shares = await db
    .selectFrom('shares')
    .select(['person_id', 'right'])
    .where(column(shared), '=', number(shared))
    .execute();
  const rightOf = new Map(shares.map((s) => [s.person_id, s.right]));
  return {
    shares: people.flatMap(({ id, name, email }) => {
      const right = rightOf.get(id);
      return right ? [{ person: id, name, email: all ? email : '', right }] : [];
    }),
    others: all ? people.filter((p) => !rightOf.has(p.id) && !includes(p.right, 'editor')) : [],
  };
}

/**
 * Shares something with a person, or stops sharing it. Returns what was done, for the journal.
 * @throws Refusal if the person or the thing does not exist
 */
export async function shareWith(
  db: Database,
  shared: Shared,
  { person, right }: { person: string; right: SharedRight | null },
  by: string,
  sharer: Pick<Person, 'right'>,
): Promise<string> {
  if (!includes(sharer.right, 'editor'))
    throw new Refusal(
      'This is shared with you, so you cannot share it further. Ask an administrator to share it.',
      403,
    );
  return db.transaction().execute((tx) => shareIn(tx, shared, { person, right }, by));
}

/** The same within a transaction that does more. @throws Refusal */
export async function shareIn(
  tx: Database,
  shared: Shared,
  { person, right }: { person: string; right: SharedRight | null },
  by: string,
): Promise<string> {
  const found = await tx
    .selectFrom('people')
    .select(['id', 'name'])
    .where('id', '=', person)
    .where('ended', '=', false)
    .forUpdate()
    .executeTakeFirst();
  if (!found) throw new Refusal('This person no longer has an account. Reload the page.', 404);
  await tx
    .deleteFrom('shares')
    .where('person_id', '=', person)
    .where(column(shared), '=', number(shared))
    .execute();
  if (right)
    await tx
      .insertInto('shares')
      .values({ person_id: person, right, made_by: by, ...of(shared) })
      .execute();
  const { name } = await tx
    .selectFrom('list' in shared ? 'lists' : 'jobs')
    .select('name')
    .where('id', '=', number(shared))
    .executeTakeFirstOrThrow();
  return `${name}, with ${found.name}, ${right ? `as ${rightWords[right].role}` : 'no longer shared'}`;
}
