'use client';

import { useLayoutEffect, useRef } from 'react';
import type { LedgerRow } from '../../../contract';
import { isSecret, type Column } from '../../../core/records/columns';
import { scroll } from '../../shell/ledger/scroll';
import { useJob } from '../../shell/ledger/context';

const mostPasted = 5000;
/** Rows below the row in hand that are surely loaded. */
const mostRows = 100;

/**
 * The keys of the cell in hand: left and right go to the next, Enter changes it, Delete empties it;
 * copying takes its text, and pasting fills it and those to the right of it and below, worked
 * columns passed over, all in one change that can be undone.
 */
export function useCellKeys(
  active: boolean,
  { record, index }: { record: LedgerRow; index: number },
  columns: readonly Column[],
  edit: (column: Column | undefined) => void,
): void {
  const { editCell, editCells, rowAt, total, revealed, setProblem } = useJob();
  const keys = useRef<{
    key(e: KeyboardEvent): void;
    copy(e: ClipboardEvent): void;
    paste(e: ClipboardEvent): void;
  }>(null);
  // before the row is seen: a key goes to what stands there, not to what stood there before
  useLayoutEffect(() => {
    // asked only where there are columns
    const column = () => columns[Math.min(scroll.now().cell, columns.length - 1)]!;
    const none = columns.length === 0;
    keys.current = {
      key(e) {
        if (e.ctrlKey || e.metaKey || e.altKey || none || elsewhere(e)) return;
        const at = columns.indexOf(column());
        if (e.key === 'ArrowLeft') scroll.take(Math.max(0, at - 1));
        else if (e.key === 'ArrowRight') scroll.take(Math.min(columns.length - 1, at + 1));
        else if (e.key === 'Enter' || e.key === 'F2') edit(column());
        else if (e.key === 'Delete' && !column().worked)
          editCell(record.id, column().id, '', record.values[column().id] ?? '');
        else return;
        e.preventDefault();
      },
      copy(e) {
        if (none || elsewhere(e) || String(getSelection())) return;
        e.preventDefault();
        if (isSecret(column(), columns) && !revealed.has(column().id))
          return setProblem(
            `${column().name} is kept secret. Show it on this screen first, in its heading, to copy it.`,
          );
        e.clipboardData?.setData('text/plain', record.values[column().id] ?? '');
      },
      paste(e) {
        const text = e.clipboardData?.getData('text/plain').replace(/\r?\n$/, '') ?? '';
        if (none || elsewhere(e) || text === '') return;
        e.preventDefault();
        const at = columns.indexOf(column());
        // only for those who paste
        const fill = async () => {
          const { rowsOf } = await import('./pasted');
          const rows = rowsOf(text);
          const room = Math.min(total - index, mostRows);
          const open = columns.slice(at).filter((c) => !c.worked);
          const edits = rows.flatMap((row, r) => {
            const to = rowAt(index + r);
            return to
              ? row.slice(0, open.length).map((value, i) => ({
                  record: to.id,
                  column: open[i]!.id,
                  value,
                  from: to.values[open[i]!.id] ?? '',
                }))
              : [];
          });
          if (edits.length > mostPasted || rows.length > room)
            return setProblem(
              `These are ${rows.length.toLocaleString('en')} rows; ${room.toLocaleString('en')} can be filled from here on. Bring longer ones in as a list of their own, or add records first.`,
            );
          editCells(edits);
        };
        fill().catch((error: unknown) => setProblem(String(error)));
      },
    };
  });
  useLayoutEffect(() => {
    if (!active) return;
    const [key, copy, paste] = [
      (e: KeyboardEvent) => keys.current?.key(e),
      (e: ClipboardEvent) => keys.current?.copy(e),
      (e: ClipboardEvent) => keys.current?.paste(e),
    ];
    window.addEventListener('keydown', key);
    window.addEventListener('copy', copy);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('keydown', key);
      window.removeEventListener('copy', copy);
      window.removeEventListener('paste', paste);
    };
  }, [active]);
}

/** Whether something is typed or chosen elsewhere just then. */
const elsewhere = (e: Event): boolean =>
  Boolean(
    e.target instanceof HTMLElement &&
    e.target.closest(
      'input:not([type=checkbox]), textarea, select, button, a, [role=button], [role=dialog], [role=listbox]',
    ),
  );
