import type { DocumentBlock, DocumentCode, DocumentGround, DocumentPlace } from '../piece/ground';
import { wordsPurpose } from '../payload/purposes';
import type { Stamp } from '../payload/stamp';
import type { Values } from '../records/columns';
import { written } from './forms';

/** The text of a place for a record; undefined if a column of it is blank. */
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

/** The key under which the rows of a record are stored among its values, when a run is frozen. */
export const rowsKey = (block: Pick<DocumentBlock, 'id'>): string => `rows of ${block.id}`;

/** Most rows of another list that belong to one record. */
export const mostRows = 500;

/** The rows of a block for a record. */
export function rowsOf(block: DocumentBlock, values: Values): Values[] {
  const text = values[rowsKey(block)];
  return text === undefined ? [] : (JSON.parse(text) as Values[]);
}

/** Under which name the code of a place goes, in each row of its block under its own. */
export const codeKey = ({ id }: Pick<DocumentCode, 'id'>, row?: number): string =>
  row === undefined ? id : `${id} ${row}`;

/** The stamp of a code in a row: its content may be of another list. */
const stampInRow = (stamp: Stamp, { says }: Pick<DocumentCode, 'says'>): Stamp =>
  says
    ? { ...stamp, does: wordsPurpose, parts: says, fields: undefined, proofKey: undefined }
    : stamp;

/** A code of a document for a record. */
export interface CodeOfDocument {
  key: string;
  place: DocumentCode;
  stamp: Stamp | undefined;
  /** Of which it is made. */
  values: Values;
  /** Of a code in a row: its number within the stamp, from 1, and the row of its block, from 0. */
  inRow?: { nth: number; row: number };
}

/** The codes of a document for a record, row by row in a block. */
export function codesOf(
  ground: DocumentGround,
  stamps: readonly Stamp[],
  values: Values,
): CodeOfDocument[] {
  const met = new Map<string, number>();
  return ground.codes.flatMap((place): CodeOfDocument[] => {
    const own = stamps.find((s) => s.id === place.stamp);
    const stamp = own && stampInRow(own, place);
    if (place.block === undefined) return [{ key: codeKey(place), place, stamp, values }];
    const block = ground.blocks.find((b) => b.id === place.block);
    return (block ? rowsOf(block, values) : []).map((of, row) => {
      const nth = (met.get(place.stamp) ?? 0) + 1;
      met.set(place.stamp, nth);
      return { key: codeKey(place, row), place, stamp, values: of, inRow: { nth, row } };
    });
  });
}
