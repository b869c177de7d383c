import { readJob } from '../../core/job/document';
import { purposeOf } from '../../core/payload/purposes';
import { outputOf, usualOutput } from '../../core/run/outputs';
import { sql } from 'kysely';
import { type SheetProof, newRunSchema, type NewRun } from '../../contract';
import { placesOn, sheetsFor, stockOf } from '../../core/piece/stock';
import { mailOf } from '../../core/mail/mail';
import { addressed, type Addressed, withoutRecords } from './addresses';
import { groupedBy } from './groups';
import { needsOf } from '../../core/run/outputs/needs';
import {
  chosenItems,
  firstOfGroups,
  isReady,
  leftOut,
  onePerRecord,
  type ChosenItem,
} from './choosing';
import { staysOfExample } from '../documents';
import type { Database } from '../platform';
import { maskedValues, recordToken } from '../access';
import { hiddenFrom, orderOf, wholeList } from '../jobs';
import { includes, type Right } from '../../core/access/rights';

/** A record that cannot be made is reported; its document is not searched. */
const noStays: Awaited<ReturnType<typeof staysOfExample>> = { madeFor: '', stays: [] };
const nobody: Addressed = { without: new Map(), shared: { records: 0, first: [] } };

/** Records that one look at a run without sheets shows. */
const lookedAt = 24;

/**
 * What a run would make, before it is started: the count, one sheet of it, and what is left out.
 * Chosen by the same query as a run.
 */
export async function proofOf(
  db: Database,
  jobId: number,
  asked: NewRun,
  sheet: number,
  may: Right = 'editor',
  onlyReady = false,
): Promise<SheetProof> {
  const wanted = newRunSchema.parse(asked);
  const job = await db
    .selectFrom('jobs')
    .selectAll()
    .where('id', '=', jobId)
    .executeTakeFirstOrThrow();
  const { columns, stamps, revision, changes } = await db
    .selectFrom('lists')
    .select(['columns', 'stamps', 'revision', 'changes'])
    .where('id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  const proves = stamps.some(
    (s) =>
      s.proofKey !== undefined ||
      (!includes(may, 'editor') && purposeOf(s.does).hides !== undefined),
  );
  const document = readJob(job.document);
  const own = document.options;
  const output = wanted.output ?? { kind: usualOutput };
  const onSheets = outputOf(output.kind).sheets;
  const options = onSheets ? own : onePerRecord(own);
  const inView =
    wanted.which === 'filtered'
      ? await orderOf(db, jobId, wanted.view ?? wholeList, await hiddenFrom(db, jobId, may))
      : wanted.ticked;
  const by = groupedBy(document.piece, outputOf(output.kind));
  const mail = mailOf(document.mail, columns);
  const needs = needsOf(outputOf(output.kind), document.piece, stamps, mail);
  const choice = { ...wanted, shown: inView, by, needs, onlyReady };
  const meant = chosenItems(jobId, choice, options);
  const { without, shared } =
    outputOf(output.kind).delivers === 'mail'
      ? await addressed(db, jobId, columns, mail, output, meant)
      : nobody;
  const all = withoutRecords(meant, without);
  const chosen = by === undefined ? all : firstOfGroups(all, by);
  const stock = stockOf(document.piece);
  const from = onSheets
    ? Math.max(0, sheet * placesOn(stock) - (options.start - 1))
    : sheet * lookedAt;
  const to = onSheets
    ? (sheet + 1) * placesOn(stock) - (options.start - 1)
    : (sheet + 1) * lookedAt;
  const counts = await sql<{ pieces: number; records: number; look: number }>`
    select count(*)::int as pieces, count(distinct c.record_id)::int as records,
      count(distinct c.record_id) filter (where not ${isReady(needs)})::int as look
    from (${chosen}) c
      join job_rows r on r.record_id = c.record_id and r.job_id = ${jobId}`.execute(db);
  const items = await sql<ChosenItem>`select seq, record_id, values from (${chosen}) c
      where seq >= ${from} and seq < ${to} order by seq`.execute(db);
  const { pieces, records, look } = counts.rows[0]!;
  const left = await leftOut(
    db,
    jobId,
    columns,
    choice,
    sql`select record_id from (${all}) c`,
    without,
  );
  const { madeFor, stays } = outputOf(output.kind).grounds
    ? await staysOfExample(
        db,
        { ...document, stamps },
        columns,
        job.list_id,
        JSON.stringify([jobId, job.version, job.list_id, revision, changes]),
      ).catch(() => noStays)
    : noStays;
  return {
    ...(stays.length > 0 ? { stays: { madeFor, values: stays } } : {}),
    pieces,
    records,
    look,
    sheets: onSheets ? sheetsFor(stock, pieces, options.start) : Math.ceil(pieces / lookedAt),
    items: items.rows.map(({ seq, record_id: record, values }) => ({
      seq,
      record,
      values: {
        ...maskedValues(columns, record, values),
        ...(proves ? recordToken(record, values) : {}),
      },
    })),
    shared,
    left: left.count,
    leftOut: left.rows,
  };
}
