import type { LedgerRow } from '../../contract';
import { columnsOf, judgeStamp, type Stamp, type StampVerdict } from '../../core/payload/stamp';
import type { Column, Values } from '../../core/records/columns';
import { sealedRecord } from '../../core/records/sealed';
import { verdict as wording } from './words';

/**
 * Whether a value that a stamp is made of is kept back from this window, so that only the server
 * knows what the code says.
 */
export const isKeptBack = (stamp: Stamp, values: Values): boolean =>
  sealedRecord(columnsOf(stamp).map((id) => values[id] ?? '')) !== undefined;

/** Said in place of a code to those who may not have it. */
export const keptBackWords = wording.keptBackItSays;

/**
 * How a stamp stands for a record: weighed here, or where a value is kept back as the server
 * weighed it.
 */
export function verdictOf(
  stamp: Stamp,
  record: Pick<LedgerRow, 'values' | 'notes'>,
  columns: readonly Column[],
): StampVerdict {
  if (!isKeptBack(stamp, record.values)) return judgeStamp(stamp, record.values, columns);
  const note = record.notes.find((n) => n.stamp === stamp.id);
  if (!note) return { mark: 'ready', payload: '' };
  return note.out
    ? { mark: 'out', reason: note.text }
    : { mark: 'look', payload: '', reason: note.text };
}
