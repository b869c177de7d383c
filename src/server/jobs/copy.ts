import { sql } from 'kysely';
import { includes, type Right } from '../../core/access/rights';
import { readJob } from '../../core/job/document';
import { referencesIn } from '../../core/base/references';
import { pieceSchema } from '../../core/piece/model';
import { type Column, columnSchema, secretsOf } from '../../core/records/columns';
import { holdsAddresses, withKey } from '../../core/records/beginnings';
import type { Stamp } from '../../core/payload/stamp';
import { mayName, type Person, shareIn } from '../access';
import { changed, rejudgeList } from '../judging';
import { createJob, createList, workOutAll } from '../lists';
import {
  checkRoom,
  type Database,
  Refusal,
  stampWithSealedKey,
  workedWithSealedKey,
} from '../platform';

/** A stamp for another list: its proofs get a key of their own, and passwords are not copied. */
const withoutSecrets = (stamp: Stamp): Stamp => ({
  ...stamp,
  ...(stamp.proofKey === undefined ? {} : { proofKey: 'new' }),
  ...(stamp.fields?.password ? { fields: { ...stamp.fields, password: [] } } : {}),
});

const withOwnKey = (column: Column): Column =>
  column.worked
    ? { ...column, worked: workedWithSealedKey(withKey(column.worked, () => 'new')) }
    : column;

/**
 * Copies a job for a person: its current list, stamps and piece. They may change the copy. Secrets
 * are copied only if they may see them in the original. Returns the number of the new job.
 */
export async function copyJob(
  db: Database,
  id: number,
  person: Pick<Person, 'id' | 'name' | 'right'>,
  may: Right,
): Promise<number> {
  await checkRoom(db);
  // the records are copied in the order and the state of one moment
  const oneMoment = db.transaction().setIsolationLevel('repeatable read');
  const { listId, jobId, worked } = await oneMoment.execute(async (tx) => {
    const job = await tx
      .selectFrom('jobs')
      .selectAll()
      .where('id', '=', id)
      .executeTakeFirstOrThrow();
    const list = await tx
      .selectFrom('lists')
      .selectAll()
      .where('id', '=', job.list_id)
      .executeTakeFirstOrThrow();
    const all = includes(may, 'editor');
    for (const reference of referencesIn(pieceSchema, readJob(job.document).piece))
      if (!(await mayName(tx, person, reference)))
        throw new Refusal(
          'This job repeats rows of a list that is not shared with you, so it cannot be copied. Ask an administrator to share that list with you.',
          403,
        );
    // values that they may not look up stay as they were, and are not updated in the copy
    const ownColumns: Column[] = [];
    for (const column of list.columns) {
      const references = referencesIn(columnSchema, column);
      const theirs = await Promise.all(references.map((one) => mayName(tx, person, one)));
      const plain: Column = { ...column };
      delete plain.worked;
      delete plain.looksUpSecret;
      ownColumns.push(theirs.every(Boolean) ? column : plain);
    }
    // a link or a page belongs to one record: the copy's records get their own
    const own = list.columns.filter(holdsAddresses);
    const hidden = [...(all ? [] : secretsOf(list.columns)), ...own].map((column) => column.id);
    const made = await createList(tx, {
      name: `${list.name}, of ${person.name}`,
      source: `${list.name}, copied`,
      headings: [],
      roles: [],
      rows: [],
      note: `A copy of ${list.name}`,
      actor: person.name,
    });
    const stamps = all ? list.stamps : list.stamps.map(withoutSecrets).map(stampWithSealedKey);
    const columns = all ? ownColumns : ownColumns.map(withOwnKey);
    await tx
      .updateTable('lists')
      .set({
        columns: JSON.stringify(columns),
        stamps: JSON.stringify(stamps),
        shapes: JSON.stringify(list.shapes),
        next_column: list.next_column,
      })
      .where('id', '=', made.id)
      .execute();
    const { rows } = await sql<{ n: number }>`
      with copied as (
        insert into records (list_id, position, values, doubts)
        select ${made.id}::int, position,
          (select coalesce(json_object_agg(cell.key,
            case when cell.key = any(${hidden}::text[]) then '' else cell.value end), '{}')
            from json_each_text(values) cell), doubts
        from records where list_id = ${list.id} order by position returning 1)
      select count(*)::int as n from copied`.execute(tx);
    await tx
      .updateTable('revisions')
      .set({ counts: JSON.stringify({ added: rows[0]!.n, changed: 0, gone: 0 }) })
      .where('list_id', '=', made.id)
      .execute();
    const copy = await createJob(
      tx,
      `${job.name}, of ${person.name}`,
      made.id,
      columns,
      person.name,
      {
        ...readJob(job.document),
        stamps,
      },
    );
    await changed(tx, made.id, own.length > 0);
    await shareIn(tx, { list: made.id }, { person: person.id, right: 'editor' }, person.name);
    return { listId: made.id, jobId: copy, worked: own.length > 0 };
  });
  await (worked ? workOutAll(db, listId) : rejudgeList(db, listId));
  return jobId;
}
