import type { DocumentBlock, DocumentPlace } from '../piece/ground';
import type { Values } from '../records/columns';
import { written } from './forms';

/** What a place says for a record; undefined where a column of it is blank. */
export function wordsAt({ parts, form }: DocumentPlace, values: Values): string | undefined {
  let text = '';
  for (const part of parts) {
    if (part.kind === 'text') {
      text += part.text;
      continue;
    }
    const value = (values[part.column] ?? '').trim();
    if (value === '') return undefined;
    text += written(value, form);
  }
  return text;
}

/** Where the rows that belong to a record stand among its values, put there when a run is frozen. */
export const rowsKey = (block: Pick<DocumentBlock, 'id'>): string => `rows of ${block.id}`;

/** The rows of a block for a record. */
export function rowsOf(block: DocumentBlock, values: Values): Values[] {
  const text = values[rowsKey(block)];
  return text === undefined ? [] : (JSON.parse(text) as Values[]);
}
