import { csvLines, clock } from '../platform';
import { LRUCache } from 'lru-cache';
import { sql } from 'kysely';
import type { JournalLine } from '../../contract';
import type { Database } from '../platform';
import type { Person } from './who';

/** One line of the journal. */
export interface Note {
  person: Pick<Person, 'id' | 'name'> | undefined;
  /** The name of the program, if a program did it. */
  who?: string;
  what: string;
  about?: string;
  list?: number | null;
  job?: number | null;
  request: string;
}

/** Records that something is being done. Returns the number of the line, for its result. */
export async function beginNote(db: Database, note: Note): Promise<number> {
  const { id } = await db
    .insertInto('journal')
    .values({ ...rowOf(note), outcome: null })
    .returning('id')
    .executeTakeFirstOrThrow();
  return id;
}

/** Stores the result, once. */
export async function settleNote(
  db: Database,
  id: number,
  outcome: string,
  about?: string,
): Promise<void> {
  await db
    .updateTable('journal')
    .set({ outcome, settled_at: clock.date(), ...(about === undefined ? {} : { about }) })
    .where('id', '=', id)
    .where('outcome', 'is', null)
    .execute();
}

/** Writes one action into the journal. */
export async function note(db: Database, told: Note, outcome = 'done'): Promise<void> {
  await db
    .insertInto('journal')
    .values({ ...rowOf(told), outcome, settled_at: clock.date() })
    .execute();
}

const rowOf = ({ person, who, what, about = '', list, job, request }: Note) => ({
  person_id: person?.id ?? null,
  who: who ?? person?.name ?? 'someone who is not signed in',
  what,
  about,
  list_id: list ?? null,
  job_id: job ?? null,
  request,
});

export interface JournalAsked {
  q?: string;
  /** Days, both included, in UTC. */
  from?: string;
  until?: string;
  job?: number;
  list?: number;
}

const inPage = 100;

function lines(db: Database, asked: JournalAsked) {
  let query = db.selectFrom('journal').selectAll().orderBy('id', 'desc');
  if (asked.q) {
    const like = `%${asked.q.replace(/[\\%_]/g, '\\$&')}%`;
    query = query.where((e) =>
      e.or((['who', 'what', 'about', 'request'] as const).map((c) => e(c, 'ilike', like))),
    );
  }
  if (asked.from) query = query.where('at', '>=', new Date(`${asked.from}T00:00:00Z`));
  if (asked.until)
    query = query.where('at', '<', sql<Date>`${asked.until}::date + interval '1 day'`);
  if (asked.job) query = query.where('job_id', '=', asked.job);
  if (asked.list) query = query.where('list_id', '=', asked.list);
  return query;
}

export async function viewJournal(
  db: Database,
  { before, ...asked }: JournalAsked & { before?: number },
): Promise<{ lines: JournalLine[]; more: boolean }> {
  const query = lines(db, asked).limit(inPage + 1);
  const rows = await (before ? query.where('id', '<', before) : query).execute();
  return {
    lines: rows.slice(0, inPage).map((row) => ({
      id: row.id,
      at: row.at.toISOString(),
      who: row.who,
      what: row.what,
      about: row.about,
      list: row.list_id,
      job: row.job_id,
      request: row.request,
      outcome: row.outcome,
    })),
    more: rows.length > inPage,
  };
}

/** The journal as CSV (RFC 4180), UTF-8 with a mark, the latest first. */
export async function* journalCsv(db: Database, asked: JournalAsked): AsyncGenerator<Uint8Array> {
  const encoder = new TextEncoder();
  yield encoder.encode(
    csvLines([['When (UTC)', 'Who', 'What', 'About', 'Outcome', 'Request']], { bom: true }),
  );
  let before: number | undefined;
  for (;;) {
    const query = lines(db, asked).limit(1000);
    const rows = await (before ? query.where('id', '<', before) : query).execute();
    if (rows.length === 0) return;
    yield encoder.encode(
      csvLines(
        rows.map((r) => [
          r.at.toISOString(),
          r.who,
          r.what,
          r.about,
          r.outcome ?? 'not known',
          r.request,
        ]),
      ),
    );
    before = rows.at(-1)!.id;
  }
}

/**
 * Secrets that a session was shown lately. They are requested with every window of records, and the
 * journal names them once.
 */
const shownLately = new LRUCache<string, true>({ max: 2000, ttl: 3600_000 });

/** Records that a person had secrets shown to them. */
export async function noteShown(
  db: Database,
  {
    person,
    job,
    columns,
    request,
  }: { person: Person; job: number; columns: string; request: string },
): Promise<void> {
  const key = JSON.stringify([person.session ?? person.id, job, columns]);
  if (shownLately.has(key)) return;
  shownLately.set(key, true);
  const found = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.name', 'lists.columns', 'lists.id as list'])
    .where('jobs.id', '=', job)
    .executeTakeFirstOrThrow();
  const names = columns
    .split(',')
    .flatMap((id) => found.columns.find((column) => column.id === id)?.name ?? []);
  await note(db, {
    person,
    what: 'Showed secrets',
    about: `${names.join(', ')} of ${found.name}`,
    list: found.list,
    job,
    request,
  });
}
