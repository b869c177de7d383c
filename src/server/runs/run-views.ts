import { type Database, fileHead, Refusal } from '../platform';
import type { ComparedRuns, RunView } from '../../contract';
import { mailCounts } from '../delivery';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { NoResultError, sql } from 'kysely';
import { saysSecret } from '../../core/payload/secrets';
import { secretsOf } from '../../core/records/columns';
import { includes, type Right } from '../../core/access/rights';
import { type FrozenRun, readRun } from '../../core/job/document';

/** The latest runs of a job. */
export const listRuns = (db: Database, jobId: number): Promise<RunView[]> =>
  viewRuns(db, (runs) => runs.where('job_id', '=', jobId).orderBy('id', 'desc').limit(30));

/** @throws NoResultError if there is no such run */
export async function viewRun(db: Database, id: number): Promise<RunView> {
  const [run] = await viewRuns(db, (runs) => runs.where('id', '=', id));
  if (!run) throw new NoResultError({} as never);
  return run;
}

/**
 * Only the displayed part of a run's frozen data: it can be megabytes, and is loaded twice a
 * second.
 */
const shownOfRun = (db: Database) =>
  db
    .selectFrom('runs')
    .select([
      'id',
      'name',
      'state',
      'pieces',
      'pieces_made',
      'sheets',
      'codes',
      'codes_read',
      'codes_failed',
      'left_out',
      'kind',
      'error',
      'mail_trouble',
    ])
    .select(['created_at', 'started_at', 'finished_at', 'files_gone_at'])
    .select([
      sql<string | null>`frozen->'output'->>'kind'`.as('output'),
      sql<number | null>`(frozen->>'again')::int`.as('again'),
      sql<string | null>`frozen->'output'->>'instead'`.as('instead'),
      // chunks are taken by their number: of other runs those before its first one
      sql<string | null>`case when state = 'waiting' then (select sum(o.pieces - o.pieces_made)
        from runs o where o.state in ('waiting', 'running') and o.id < runs.id) end`.as('ahead'),
      sql<boolean>`exists (select from paper_pictures p where p.run_id = runs.id)`.as('on_paper'),
    ]);

const mostFailures = 50;

async function viewRuns(
  db: Database,
  which: (runs: ReturnType<typeof shownOfRun>) => ReturnType<typeof shownOfRun>,
): Promise<RunView[]> {
  const runs = await which(shownOfRun(db)).execute();
  const ids = runs.map((run) => run.id);
  const files = await db
    .selectFrom('files')
    .select(['id', 'name', 'size', 'run_id'])
    .where('run_id', 'in', [...ids, -1])
    .orderBy('id')
    .execute();
  const failing = runs.filter((run) => run.codes_failed > 0).map((run) => run.id);
  const failures =
    failing.length === 0
      ? []
      : (
          await sql<{
            run: number;
            record: number;
            title: string;
            key: string;
            page: number;
            place: number;
            result: 'differs' | 'unread';
            readAs: string | null;
          }>`
            select f.* from unnest(${failing}::int[]) r(id) cross join lateral (
              select run_id as run, record_id as record, title, key, page, place, result,
                read_text as "readAs" from receipts
              where run_id = r.id and result <> 'read' order by seq
                limit ${mostFailures}) f`.execute(db)
        ).rows;
  const mails = await mailCounts(
    db,
    runs.filter((run) => run.output !== null && outputOf(run.output).delivers === 'mail'),
  );
  return runs.map((run) => ({
    id: run.id,
    name: run.name,
    state: run.state,
    pieces: run.pieces,
    made: run.pieces_made,
    ahead: run.state === 'waiting' ? Number(run.ahead ?? 0) : 0,
    sheets: run.sheets,
    codes: run.codes,
    read: run.codes_read,
    failed: run.codes_failed,
    leftOut: run.left_out,
    makes: outputOf(run.output ?? usualOutput).name,
    kind: run.kind,
    again: run.again,
    error: run.error,
    onPaper: run.on_paper,
    created: run.created_at.toISOString(),
    started: run.started_at?.toISOString() ?? null,
    finished: run.finished_at?.toISOString() ?? null,
    files: files
      .filter((f) => f.run_id === run.id)
      .map(({ id, name, size }) => ({ id, name, size })),
    failures: failures
      .filter((f) => f.run === run.id)
      .map(({ record, title, key, page, place, result, readAs }) => ({
        record,
        title,
        key,
        page,
        place,
        result,
        readAs,
      })),
    mail: mails.get(run.id) ?? null,
    filesGone: run.files_gone_at?.toISOString() ?? null,
  }));
}

/** Whether the files of a run contain secrets: in codes, or in other values of the list. */
const tellsSecrets = ({ columns, stamps }: Pick<FrozenRun, 'columns' | 'stamps'>): boolean =>
  secretsOf(columns).length > 0 || stamps.some((stamp) => saysSecret(stamp, columns));

/**
 * A file of a run, for a person with this right to the job.
 * @returns its headers, and whether it contains secrets
 * @throws Refusal 403 if it does and the person is a viewer
 */
export async function runFileFor(
  db: Database,
  id: number,
  may: Right,
): Promise<Awaited<ReturnType<typeof fileHead>> & { secret: boolean }> {
  const head = await fileHead(db, id);
  const { frozen } = await db
    .selectFrom('files')
    .innerJoin('runs', 'runs.id', 'files.run_id')
    .select('runs.frozen')
    .where('files.id', '=', id)
    .executeTakeFirstOrThrow();
  const secret = tellsSecrets(readRun(frozen));
  if (secret && !includes(may, 'editor'))
    throw new Refusal(
      'This file contains secrets, so only people who can edit the job may download it. Ask one of them for it.',
      403,
    );
  return { ...head, secret };
}

/**
 * Compares what two runs of one job printed, record by record. Payloads with secrets are compared,
 * and not shown.
 */
export async function compareRuns(
  db: Database,
  first: number,
  second: number,
): Promise<ComparedRuns> {
  const jobs = await db
    .selectFrom('runs')
    .select('job_id')
    .where('id', 'in', [first, second])
    .execute();
  if (new Set(jobs.map((run) => run.job_id)).size !== 1)
    throw new Refusal('You can compare only runs of the same job. Choose another run.');
  const only = async (here: number, there: number) =>
    (
      await sql<{ title: string; key: string }>`
        select distinct on (a.record_id) a.title, a.key from receipts a where a.run_id = ${here}
          and not exists (select 1 from receipts b
            where b.run_id = ${there} and b.record_id = a.record_id) order by a.record_id
            limit 200`.execute(db)
    ).rows;
  const differ = await sql<{
    title: string;
    key: string;
    stamp: string;
    first: string;
    second: string;
  }>`
    select distinct on (b.record_id, b.stamp, b.payload) b.record_id, b.title, b.key, b.stamp,
      a.payload as first, b.payload as second from receipts b
      cross join lateral (
        select a.payload from receipts a
          where a.run_id = ${first} and a.record_id = b.record_id and a.stamp = b.stamp
        order by a.nth = b.nth desc, a.seq limit 1) a
      where b.run_id = ${second} and not exists (
        select 1 from receipts same
          where same.run_id = ${first} and same.record_id = b.record_id and same.stamp = b.stamp
          and same.payload = b.payload)
      order by b.record_id, b.stamp, b.payload limit 200`.execute(db);
  const both = await sql<{ n: number }>`
    select count(distinct a.record_id) as n from receipts a
      join receipts b on b.record_id = a.record_id
      where a.run_id = ${first} and b.run_id = ${second}`.execute(db);
  const { frozen } = await db
    .selectFrom('runs')
    .select('frozen')
    .where('id', '=', second)
    .executeTakeFirstOrThrow();
  const { stamps, columns } = readRun(frozen);
  return {
    both: both.rows[0]?.n ?? 0,
    onlyFirst: await only(first, second),
    onlySecond: await only(second, first),
    differ: differ.rows.map((row) => {
      const stamp = stamps.find((s) => s.id === row.stamp);
      const hidden = stamp && saysSecret(stamp, columns);
      return {
        ...row,
        stamp: stamp?.name ?? row.stamp,
        first: hidden ? 'a secret' : row.first,
        second: hidden ? 'another one' : row.second,
      };
    }),
  };
}
