import { onGround } from '../../core/grounds';
import type { workedColumnSchema } from '../../contract';
import { type ColumnsChange } from '../../contract';
import type { z } from 'zod';
import { readJob } from '../../core/job/document';
import { withoutSecretText } from '../../core/payload/secrets';
import { isSecret, type Column } from '../../core/records/columns';
import { isLink, beginningOf } from '../../core/records/beginnings';
import { columnsIn } from '../../core/records/parts';
import { lookupsOf, sourcesOf, type Worked } from '../../core/records/worked';
import { type Database, Refusal, workedWithSealedKey } from '../platform';
import { rejudgeList } from '../judging';
import { tellLookers, withLookedUpSecrets } from './looked-up';
import { revise, sameJson } from './revisions';
import { workOutAll } from './working';

/** Changes the columns of a list in one revision that can be undone. */
async function changeColumns(
  db: Database,
  listId: number,
  actor: string,
  change: (
    columns: Column[],
    tx: Database,
    nextNumber: number,
  ) => Promise<{ columns: Column[]; note: string; took?: number }>,
): Promise<void> {
  await db.transaction().execute(async (tx) => {
    const list = await tx
      .selectFrom('lists')
      .select(['columns', 'stamps', 'next_column'])
      .where('id', '=', listId)
      .forUpdate()
      .executeTakeFirstOrThrow();
    const { columns: wanted, note, took = 0 } = await change(list.columns, tx, list.next_column);
    const columns = await withLookedUpSecrets(tx, wanted);
    await tx
      .updateTable('lists')
      .set({
        columns: JSON.stringify(columns),
        next_column: list.next_column + took,
        // a column that is secret from now on is not printed as text under bars
        stamps: JSON.stringify(list.stamps.map((stamp) => withoutSecretText(stamp, columns))),
      })
      .where('id', '=', listId)
      .execute();
    await tellLookers(tx, listId);
    await revise(tx, listId, 'columns', note, actor, [], { before: list.columns, after: columns });
  });
}

/** Adds a worked column or changes one, and works it out for every record. Returns its id. */
export async function keepWorkedColumn(
  db: Database,
  listId: number,
  wanted: z.infer<typeof workedColumnSchema>,
  actor: string,
  /**
   * Returns an existing column that makes this one unnecessary; looked for while the list is
   * locked.
   */
  already?: (columns: readonly Column[]) => string | undefined,
): Promise<string> {
  let id = wanted.id ?? '';
  await changeColumns(db, listId, actor, async (columns, tx, number) => {
    const there = already?.(columns);
    if (there !== undefined) {
      id = there;
      return { columns, note: `${wanted.name} worked out again` };
    }
    const at =
      wanted.id === undefined ? columns.length : columns.findIndex((c) => c.id === wanted.id);
    if (at < 0 || (wanted.id !== undefined && !columns[at]!.worked))
      throw new Refusal('This column no longer exists. It may have been deleted.', 404);
    const now = columns[at];
    if (
      wanted.was &&
      now?.worked &&
      (now.name !== wanted.was.name || !sameJson(now.worked, wanted.was.worked))
    )
      throw new Refusal(
        `Someone changed ${now.name} in another window. You now see their sentence. Make your change again if you still want it.`,
        409,
      );
    nameIsFree(columns, wanted.name, wanted.id);
    const before = new Set(columns.slice(0, at).map((c) => c.id));
    if (sourcesOf(wanted.worked).some((source) => !before.has(source)))
      throw new Refusal('A worked column can only use columns before it. Choose another column.');
    checkLink(columns, wanted.worked);
    for (const step of lookupsOf(wanted.worked)) {
      const other = await tx
        .selectFrom('lists')
        .select('columns')
        .where('id', '=', step.list)
        .executeTakeFirst();
      if (!other) throw new Refusal('The other list no longer exists. Choose another.');
      if (![step.by, step.give].every((c) => other.columns.some((column) => column.id === c)))
        throw new Refusal('A column of the other list no longer exists. Choose another.');
    }
    id ||= `w${number}`;
    const next: Column = {
      ...columns[at],
      id,
      name: wanted.name,
      role: columns[at]?.role ?? 'text',
      worked: workedWithSealedKey(wanted.worked),
    };
    return {
      columns: [...columns.slice(0, at), next, ...columns.slice(at + 1)],
      note:
        wanted.id === undefined ? `${wanted.name} worked out` : `${wanted.name} worked out again`,
      took: wanted.id === undefined ? 1 : 0,
    };
  });
  await workOutAll(db, listId);
  return id;
}

/**
 * @throws Refusal if anyone could guess a value that leads to a secret, or if a stored address
 *   would be changed by steps
 */
function checkLink(columns: readonly Column[], { source, steps }: Worked): void {
  if (!beginningOf(source).address) return;
  if (steps.length > 0)
    throw new Refusal(
      'An address made by Hand Stamp cannot be changed by steps. Remove the steps.',
    );
  if (!isLink(source) || source.for === 'one') return;
  const secret = columns.find(
    (c) => columnsIn(source.parts).includes(c.id) && isSecret(c, columns),
  );
  if (secret)
    throw new Refusal(
      `${secret.name} is secret, and a link for anyone would lead to it. Choose a link for one person each.`,
    );
}

function nameIsFree(columns: readonly Column[], name: string, self: string | undefined): void {
  if (columns.some((c) => c.id !== self && c.name.toLowerCase() === name.toLowerCase()))
    throw new Refusal(`A column is already called ${name}. Choose another name.`);
}

/** What uses a column: worked columns, stamps, pieces. Undefined if nothing does. */
async function userOf(
  db: Database,
  listId: number,
  columns: readonly Column[],
  id: string,
): Promise<string | undefined> {
  const name = columns.find((c) => c.id === id)?.name ?? 'It';
  const user = columns.find((c) => c.worked && sourcesOf(c.worked).includes(id));
  if (user) return `${user.name} is worked out from ${name}. Change that one first.`;
  const uses = (document: unknown) => JSON.stringify(document).includes(`"column":"${id}"`);
  const { stamps } = await db
    .selectFrom('lists')
    .select('stamps')
    .where('id', '=', listId)
    .executeTakeFirstOrThrow();
  const stored = await db
    .selectFrom('jobs')
    .select(['name', 'document'])
    .where('list_id', '=', listId)
    .orderBy('id')
    .execute();
  const jobs = stored.map((job) => ({ ...job, document: readJob(job.document) }));
  const stamp = stamps.find(uses);
  if (stamp) return `The stamp ${stamp.name} uses ${name}. Remove it there first.`;
  const job = jobs.find(
    ({ document }) =>
      uses(document) || onGround(document.piece).columnsOn(document.piece).includes(id),
  );
  if (job) return `${job.name} uses ${name}. Remove it from its piece first.`;
  const mails = jobs.find((j) => j.document.mail?.to === id);
  if (mails) return `The emails of ${mails.name} go to ${name}. Choose another column there first.`;
  const lists = await db
    .selectFrom('lists')
    .select(['name', 'columns'])
    .where('id', '<>', listId)
    .execute();
  const other = lists.find((l) =>
    l.columns.some(
      (c) =>
        c.worked &&
        lookupsOf(c.worked).some((s) => s.list === listId && (s.by === id || s.give === id)),
    ),
  );
  return other && `${other.name} looks up values in ${name}. Change that first.`;
}

/**
 * Deletes a worked column, unless something is made from it. Its values stay, so that undo restores
 * secrets unchanged.
 */
export async function removeWorkedColumn(
  db: Database,
  listId: number,
  id: string,
  actor: string,
): Promise<void> {
  await changeColumns(db, listId, actor, async (columns, tx) => {
    const column = columns.find((c) => c.id === id && c.worked);
    if (!column) throw new Refusal('This column no longer exists. It may have been deleted.', 404);
    const user = await userOf(tx, listId, columns, id);
    if (user) throw new Refusal(user);
    return { columns: columns.filter((c) => c.id !== id), note: `${column.name} deleted` };
  });
  await rejudgeList(db, listId);
}

/** Changes the roles, names, order and visibility of columns, or adds a column for typing. */
export async function changeColumn(
  db: Database,
  listId: number,
  wanted: ColumnsChange,
  actor: string,
): Promise<void> {
  await changeColumns(db, listId, actor, async (columns, _tx, number) => {
    if (wanted.does === 'roles')
      return {
        columns: columns.map((column) => ({
          ...column,
          role: wanted.columns.find((c) => c.id === column.id)?.role ?? column.role,
        })),
        note: 'Roles of columns',
      };
    if (wanted.does === 'add') {
      nameIsFree(columns, wanted.name, undefined);
      return {
        columns: [...columns, { id: `c${number}`, name: wanted.name, role: 'text' }],
        note: `${wanted.name} added`,
        took: 1,
      };
    }
    const column = columns.find((c) => c.id === wanted.id);
    if (!column) throw new Refusal('This column no longer exists. It may have been deleted.', 404);
    const put = (next: Column) => columns.map((c) => (c.id === column.id ? next : c));
    if (wanted.does === 'rename') {
      if (wanted.was !== undefined && wanted.was !== column.name)
        throw new Refusal(
          `Someone named this column ${column.name} in another window, and you named it ${wanted.name}. It is now ${column.name}. Rename it again if you want another name.`,
          409,
        );
      nameIsFree(columns, wanted.name, column.id);
      const source = column.worked ? undefined : (column.source ?? column.name);
      return {
        columns: put({
          ...column,
          name: wanted.name,
          ...(source && source !== wanted.name ? { source } : {}),
        }),
        note: `${column.name} renamed to ${wanted.name}`,
      };
    }
    if (wanted.does === 'secret')
      return {
        columns: put({ ...column, secret: wanted.secret }),
        note: `${column.name} ${wanted.secret ? 'secret' : 'no longer secret'}`,
      };
    if (wanted.does === 'hide') {
      if (wanted.hidden && (column.role === 'key' || column.role === 'name'))
        throw new Refusal(
          `${column.name} is ${column.role === 'key' ? 'the key' : 'the title'} of the records. Choose another column for that first.`,
        );
      const shown: Column = { ...column };
      delete shown.hidden;
      return {
        columns: put(wanted.hidden ? { ...column, hidden: true } : shown),
        note: `${column.name} ${wanted.hidden ? 'hidden' : 'shown'}`,
      };
    }
    const others = columns.filter((c) => c.id !== column.id);
    const next = [...others.slice(0, wanted.to), column, ...others.slice(wanted.to)];
    const wrong = next.find(
      (c, i) =>
        c.worked &&
        sourcesOf(c.worked).some((source) => next.findIndex((o) => o.id === source) > i),
    );
    if (wrong)
      throw new Refusal(
        `${wrong.name} is worked out from a column that would then come after it. Move that column first.`,
      );
    return { columns: next, note: `${column.name} moved` };
  });
  await rejudgeList(db, listId);
}
