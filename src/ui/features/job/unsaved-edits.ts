'use client';
import { useCallback, useMemo, useState } from 'react';
import type { CellEdit, LedgerRow } from '../../../contract';

type Edit = Required<CellEdit>;

/**
 * Cells that were changed here and are not saved yet, shown over the server's values: an answer
 * that was on its way when a cell was typed still has the earlier value.
 * @param rowAt rows as the server last sent them, by index
 */
export function useUnsavedEdits(rowAt: (index: number) => LedgerRow | undefined) {
  const [unsaved, setUnsaved] = useState<readonly (readonly Edit[])[]>([]);
  const shownRow = useMemo(() => {
    const byRecord = new Map<number, Record<string, string>>();
    for (const { record, column, value } of unsaved.flat())
      byRecord.set(record, { ...byRecord.get(record), [column]: value });
    // the same object as long as its values are the same, so that it is not drawn again
    const shown = new WeakMap<LedgerRow, LedgerRow>();
    return (row: LedgerRow): LedgerRow => {
      const values = byRecord.get(row.id);
      if (!values) return row;
      const known = shown.get(row) ?? { ...row, values: { ...row.values, ...values } };
      shown.set(row, known);
      return known;
    };
  }, [unsaved]);
  const shownAt = useCallback(
    (index: number) => {
      const row = rowAt(index);
      return row && shownRow(row);
    },
    [rowAt, shownRow],
  );
  /** Shows edits from now on. Returns what ends that, once they are saved or were refused. */
  const show = useCallback((edits: readonly Edit[]) => {
    setUnsaved((now) => [...now, edits]);
    return () => setUnsaved((now) => now.filter((one) => one !== edits));
  }, []);
  return { shownAt, show };
}
