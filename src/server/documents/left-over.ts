import { strFromU8, unzipSync } from 'fflate';
import { inspectDocx } from '../../core/documents';
import { htmlText } from '../../core/documents/html';
import { leftOver, type LeftOver } from '../../core/documents/left-over';
import type { JobDocument } from '../../core/job/document';
import { documentGround } from '../../core/piece/model';
import { isSecret, titleColumn, type Column, type Values } from '../../core/records/columns';
import { valuesBeside } from '../judging';
import { type Database, Memo, oncePerProcess } from '../platform';
import { mergeOf, pagesOf } from './merging';

export interface StaysOfExample {
  /** The record it was made for, by title. */
  madeFor: string;
  stays: LeftOver[];
}

const nothing: StaysOfExample = { madeFor: '', stays: [] };
const memo = oncePerProcess('documents.stays', () => new Memo<StaysOfExample>(200, 10 * 60_000));

/**
 * Makes the document of another record and searches it for values of the example's record: what is
 * found would be in every document. Undefined if that cannot be decided.
 * @param state tells the current state of job and list from any other
 */
export function staysOfExample(
  db: Database,
  document: JobDocument,
  columns: readonly Column[],
  list: number,
  state: string,
): Promise<StaysOfExample> {
  const ground = documentGround(document.piece);
  const record = ground?.writtenFor?.record;
  if (!ground || record === undefined) return Promise.resolve(nothing);
  return memo.get(db, state, async () => {
    const rows = await db
      .selectFrom('records')
      .select(['id', 'values'])
      .where('list_id', '=', list)
      .orderBy((e) => e('id', '<>', record))
      .orderBy('position')
      .limit(2)
      .execute();
    const [example, other] = rows;
    if (!example || !other || example.id !== record) return nothing;
    const [values] = await valuesBeside(db, document.piece, [other]);
    const open = columns.filter((c) => !isSecret(c, columns));
    const texts = await textsFor(db, document, values!, ground.kind);
    const title = titleColumn(columns);
    return {
      madeFor: (title && other.values[title.id]) || 'another record',
      stays: leftOver(texts, open, example.values, values!),
    };
  });
}

/** Everything that is text in the document of a record. */
async function textsFor(
  db: Database,
  document: JobDocument,
  values: Values,
  kind: 'document' | 'html',
): Promise<string[]> {
  const frozen = { ...document, date: new Date(0).toISOString() };
  if (kind === 'html') return [htmlText((await pagesOf(db, frozen))(values).root)];
  const { bytes } = (await mergeOf(db, frozen))(values);
  return [
    ...inspectDocx(bytes).texts.flatMap((text) => text.paragraphs),
    // attributes, links, and metadata
    ...Object.entries(unzipSync(bytes))
      .filter(([name]) => /\.(xml|rels)$/.test(name))
      .map(([, part]) => strFromU8(part)),
  ];
}
