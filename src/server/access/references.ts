import { hasReferences, isHeld, referencesIn, type Reference } from '../../core/base/references';
import type { Route } from '../../contract';
import { includes, type Right } from '../../core/access/rights';
import { jobDocumentSchema } from '../../core/job/document';
import { type Column, columnSchema, isSecret } from '../../core/records/columns';
import * as z from 'zod';
import { columnsOf, type Database, Refusal } from '../platform';
import { type Belonging, rightOver } from './things';
import type { Person } from './who';

/**
 * Checks the rights to everything that a request names inside its body: a document under a piece, a
 * list that a worked column looks into, a list whose rows a document repeats. The right of the path
 * does not cover those.
 *
 * A reference that exists already may stay: somebody with the right put it there.
 * @param where the list or job of the path
 * @throws Refusal 403, the same whether or not the thing exists
 */
export async function checkReferences(
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
  route: Route,
  body: unknown,
  where: () => Promise<Belonging>,
): Promise<void> {
  // a person who may change everything may name everything
  if (!route.body || includes(person.right, 'editor') || !hasReferences(route.body)) return;
  const named = referencesIn(route.body, body);
  if (named.length === 0) return;
  const held = await heldBy(db, await where());
  for (const reference of named)
    if (!isHeld(reference, held) && !(await mayName(db, person, reference)))
      throw new Refusal(
        'This uses a list or a document that is not shared with you. Nothing was changed. Ask an administrator to share it with you.',
        403,
      );
}

/** Whether a person has the right that a reference needs. */
export async function mayName(
  db: Database,
  person: Pick<Person, 'id' | 'right'>,
  { thing, id, columns }: Reference,
): Promise<boolean> {
  if (thing === 'list')
    return includes(await rightOver(db, person, 'list', id), await neededOf(db, id, columns));
  if (thing === 'document') return includes(await rightOver(db, person, 'document', id), 'viewer');
  const inSet = await db
    .selectFrom('documents')
    .select('id')
    .where('set_id', '=', id)
    .limit(1)
    .executeTakeFirst();
  return inSet
    ? includes(await rightOver(db, person, 'document', inSet.id), 'viewer')
    : includes(person.right, 'viewer');
}

/** People who may edit a list may read its secret columns; viewers may read the others. */
async function neededOf(db: Database, list: number, read: readonly string[]): Promise<Right> {
  const columns = await columnsOf(db, list);
  return columns.some((c) => read.includes(c.id) && isSecret(c, columns)) ? 'editor' : 'viewer';
}

/** The references that the documents of a path already have. */
async function heldBy(db: Database, { list, jobs }: Belonging): Promise<Reference[]> {
  const columns = list === null ? [] : await columnsOf(db, list);
  const documents =
    jobs.length === 0
      ? []
      : await db.selectFrom('jobs').select('document').where('id', 'in', jobs).execute();
  const own = list === null ? [] : [{ thing: 'list' as const, id: list, columns: openOf(columns) }];
  return [
    ...own,
    ...referencesIn(z.array(columnSchema), columns),
    ...documents.flatMap(({ document }) => referencesIn(jobDocumentSchema.partial(), document)),
  ];
}

/** A list may look into itself, in its open columns. */
const openOf = (columns: readonly Column[]): string[] =>
  columns.filter((c) => !isSecret(c, columns)).map((c) => c.id);
