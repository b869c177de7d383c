import type { LedgerRow } from '../../contract';
import { columnsOf, judgeStamp, type Stamp, type StampVerdict } from '../../core/payload/stamp';
import type { Column, Values } from '../../core/records/columns';
import { sealedRecord } from '../../core/records/sealed';
import { verdict as wording } from './words';

/**
 * Whether a value of a stamp is hidden from this window, so that only the server knows the content
 * of the code.
 */
export const isKeptBack = (stamp: Stamp, values: Values): boolean =>
  sealedRecord(columnsOf(stamp).map((id) => values[id] ?? '')) !== undefined;

/** Shown instead of a code to people who may not have it. */
export const keptBackWords = wording.keptBackItSays;

/**
 * The verdict on a stamp of a record: calculated here, or, if a value is hidden, by the server.
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
