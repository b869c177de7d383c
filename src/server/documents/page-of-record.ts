import { rowsKey } from '../../core/documents';
import { readJob } from '../../core/job/document';
import { documentGround } from '../../core/piece/model';
import { maskedValues } from '../access';
import { textInLine } from './in-line';
import { type Database, Refusal } from '../platform';
import { pagesOf } from './merging';
import { rowsOfRecord } from './rows';

/** The page of a record as an email would contain it, with inline styles; secrets are masked. */
export async function pageOfRecord(db: Database, jobId: number, record: number): Promise<string> {
  const job = await db
    .selectFrom('jobs')
    .innerJoin('lists', 'lists.id', 'jobs.list_id')
    .select(['jobs.document', 'jobs.list_id', 'lists.columns', 'lists.stamps'])
    .where('jobs.id', '=', jobId)
    .executeTakeFirstOrThrow();
  const { piece } = readJob(job.document);
  if (piece.ground?.kind !== 'html')
    throw new Refusal('This job has no web page. Bring in an HTML page in Piece first.', 404);
  const { values } = await db
    .selectFrom('records')
    .select('values')
    .where('id', '=', record)
    .where('list_id', '=', job.list_id)
    .executeTakeFirstOrThrow();
  const rows = await rowsOfRecord(db, jobId, record);
  const page = await pagesOf(db, { piece, stamps: job.stamps, date: new Date(0).toISOString() });
  const seen = {
    ...maskedValues(job.columns, record, values),
    ...Object.fromEntries(
      (documentGround(piece)?.blocks ?? []).map((b) => [
        rowsKey(b),
        JSON.stringify(rows[b.id] ?? []),
      ]),
    ),
  };
  return textInLine(page(seen).root);
}
