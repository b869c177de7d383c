'use client';

import { useLayoutEffect, useRef } from 'react';
import { flushSync } from 'react-dom';
import type { LedgerRow } from '../../../contract';
import { isSecret, type Column } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import { useMay } from '../../kit/me';
import { scroll } from '../../shell/ledger/scroll';
import { isWhole } from '../../shell/ledger/view';
import { useJob } from '../../shell/ledger/context';
import { cellKeys as wording } from './words';
import { filled } from '../../kit/with-parts';

const mostPasted = 5000;
/** How many rows below the selected row are surely loaded. */
const mostRows = 100;

/**
 * The keys of the selected cell. Left and right go to the next cell, Enter edits it, Delete empties
 * it, and once it was selected on purpose, typing replaces it until Escape. Copying takes its text;
 * pasting fills it and the cells to the right and below, without worked columns, in one change that
 * can be undone.
 */
export function useCellKeys(
  active: boolean,
  { record, index }: { record: LedgerRow; index: number },
  columns: readonly Column[],
  edit: (column: Column | undefined, typed?: string) => void,
): void {
  const { job, view, editCell, editCells, changeList, rowAt, total, revealed, setProblem } =
    useJob();
  const may = useMay();
  const keys = useRef<{
    type(e: KeyboardEvent): void;
    key(e: KeyboardEvent): void;
    copy(e: ClipboardEvent): void;
    paste(e: ClipboardEvent): void;
  }>(null);
  // before the row is drawn: a key goes to the row that is there now, not to the one before
  useLayoutEffect(() => {
    // asked for only if there are columns
    const column = () => columns[Math.min(scroll.now().cell, columns.length - 1)]!;
    const none = columns.length === 0;
    keys.current = {
      type(e) {
        if (e.ctrlKey || e.metaKey || e.altKey || e.isComposing || none || elsewhere(e)) return;
        // for viewers, keys stay shortcuts
        if (!may || !scroll.now().picked) return;
        if (e.key === 'Escape') return scroll.leave();
        // a space opens the selected code, as always
        if ([...e.key].length !== 1 || e.key === ' ') return;
        e.preventDefault();
        e.stopImmediatePropagation();
        // at once: the next letter goes into the box already
        flushSync(() => edit(column(), e.key));
      },
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
          return setProblem(filled(wording.isSecretToCopy, column().name));
        e.clipboardData?.setData('text/plain', record.values[column().id] ?? '');
      },
      paste(e) {
        const text = e.clipboardData?.getData('text/plain').replace(/\r?\n$/, '') ?? '';
        if (none || elsewhere(e) || text === '') return;
        e.preventDefault();
        const at = columns.indexOf(column());
        // only for people who may paste
        const fill = async () => {
          const { rowsOf } = await import('./pasted');
          const rows = rowsOf(text);
          // rows beyond the last one become records, if that is the end of the list
          const atEnd = isWhole(view) && index + rows.length > total;
          const room = Math.min(total - index, mostRows);
          const within = atEnd ? rows.slice(0, total - index) : rows;
          const open = columns.slice(at).filter((c) => !c.worked);
          if (within.some((_, r) => rowAt(index + r) === undefined))
            return setProblem(wording.someOfTheseRows);
          const edits = within.flatMap((row, r) => {
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
          if (edits.length > mostPasted || within.length > room || rows.length > mostPasted)
            return setProblem(
              filled(
                wording.youPastedRowsBut,
                rows.length.toLocaleString('en'),
                room.toLocaleString('en'),
              ),
            );
          editCells(edits);
          const records = rows
            .slice(within.length)
            .map((row) =>
              Object.fromEntries(
                row.slice(0, open.length).map((value, i) => [open[i]!.id, value] as const),
              ),
            );
          if (records.length > 0)
            await changeList(() =>
              ask('addRecords', { params: { id: job.list.id }, body: { records } }),
            );
        };
        fill().catch((error: unknown) => setProblem(String(error)));
      },
    };
  });
  useLayoutEffect(() => {
    if (!active) return;
    const type = (e: KeyboardEvent) => keys.current?.type(e);
    const [key, copy, paste] = [
      (e: KeyboardEvent) => keys.current?.key(e),
      (e: ClipboardEvent) => keys.current?.copy(e),
      (e: ClipboardEvent) => keys.current?.paste(e),
    ];
    // before the shortcuts of the screen hear of it
    window.addEventListener('keydown', type, true);
    window.addEventListener('keydown', key);
    window.addEventListener('copy', copy);
    window.addEventListener('paste', paste);
    return () => {
      window.removeEventListener('keydown', type, true);
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
