'use client';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useCellKeys } from './cell-keys';
import { cellWidth, narrowest, pulled, scroll, widest } from '../../shell/ledger/scroll';
import { styled } from 'styled-components';
import { isSealed, shown } from '../../../core/records/sealed';
import { isSecret, roleWords, type Column, type ColumnRole } from '../../../core/records/columns';
import type { LedgerRow } from '../../../contract';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { ChoicePart, Part } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { ColumnEditor } from './column-editor';
import { colour } from '../../kit/theme';
import { recordsTable as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Strip = styled.div`
  position: relative;
  height: 100%;
  overflow: hidden;
`;
const Cell = styled.div`
  position: absolute;
  top: 0;
  height: 35px;
  border-right: 1px solid ${colour.rule};
  padding: 0 9px;
  line-height: 35px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: text;
  &[data-worked] {
    cursor: default;
    color: ${colour.inkSoft};
  }
  &[data-hand] {
    outline: 1.5px solid ${colour.violet};
    outline-offset: -2px;
  }
  &[data-look] {
    background: ${colour.lookWash};
    box-shadow: inset 2px 0 0 ${colour.look};
  }
  input {
    position: absolute;
    inset: 1px;
    width: calc(100% - 2px);
    border: 2px solid ${colour.violet};
    border-radius: 0;
    padding: 0 6px;
  }
`;
/** Always visible, so that nobody misses the columns further right. */
const Slider = styled.div`
  overflow-x: scroll;
  height: 13px;
  border-top: 1px solid ${colour.rule};
  &::-webkit-scrollbar {
    height: 11px;
  }
  &::-webkit-scrollbar-thumb {
    background: ${colour.ruleStrong};
    border: 2px solid ${colour.paper};
    border-radius: 5px;
  }
`;
const HeadCell = styled.div`
  position: absolute;
  top: 0;
  height: 100%;
  padding: 2px 9px 0;
  /* large enough to be pointed at, one under the other */
  [role='button'] {
    display: inline-block;
    line-height: 23px;
    max-width: 100%;
  }
  b [role='button'] {
    line-height: 25px;
  }
  border-right: 1px solid ${colour.rule};
  font-size: 12px;
  color: ${colour.inkSoft};
  b {
    display: block;
    font-size: 13.5px;
    color: ${colour.ink};
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  button {
    font-weight: 400;
  }
`;

/** Column headings, scrolled together with the cells; only the visible ones are drawn. */
export function RecordsHeads() {
  const { job, view } = useJob();
  const columns = useShown();
  const widths = pulled.use(job.list.id);
  useEffect(() => {
    const own = JSON.parse(widths) as Record<string, number>;
    scroll.setWidths(columns.map((c) => own[c.id] ?? cellWidth));
  }, [columns, widths]);
  const assign = useRoles();
  const strip = useRef<HTMLDivElement>(null);
  const bar = useRef<HTMLDivElement>(null);
  const { x, width, edges } = scroll.use();
  useEffect(() => {
    if (bar.current && Math.abs(bar.current.scrollLeft - x) > 1) bar.current.scrollLeft = x;
  }, [x]);
  useEffect(() => {
    const element = strip.current;
    if (!element) return;
    const observer = new ResizeObserver(() => scroll.setWidth(element.clientWidth));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const roles = (Object.keys(roleWords) as ColumnRole[]).map((id) => ({ id, name: roleWords[id] }));
  const total = edges.at(-1) ?? 0;
  return (
    <div style={{ position: 'relative' }}>
      <Strip ref={strip} style={{ height: 52 }} onWheel={(e) => scroll.moveBy(e.deltaX)}>
        {inSight(columns, edges, x, width).map(([column, c]) => (
          <HeadCell
            key={column.id}
            style={{ left: edges[c]! - x, width: edges[c + 1]! - edges[c]! }}
          >
            <Grip list={job.list.id} column={column} width={edges[c + 1]! - edges[c]!} />
            <b title={column.name}>
              <Part
                looks
                plain
                label={filled(wording.theColumn, column.name)}
                editor={(close) => <ColumnEditor column={column} close={close} />}
              >
                {column.name}
                {view.sort?.startsWith(`${column.id}:`) && (view.sort.endsWith('up') ? ' ↑' : ' ↓')}
                {view.where.some((c) => c.column === column.id) && ' ∗'}
              </Part>
            </b>
            <ChoicePart
              label={filled(wording.roleOf, column.name)}
              choices={roles}
              value={column.role}
              onChange={(role) =>
                assign(
                  job.list.columns.map((other) => ({
                    id: other.id,
                    role:
                      other.id === column.id
                        ? role
                        : (role === 'key' || role === 'name') && other.role === role
                          ? 'text'
                          : other.role,
                  })),
                )
              }
            />
          </HeadCell>
        ))}
      </Strip>
      {total > width && (
        <Slider
          ref={bar}
          tabIndex={0}
          role="region"
          aria-label={wording.columnsFurtherRight}
          onScroll={(e) => scroll.moveTo(e.currentTarget.scrollLeft)}
        >
          <div style={{ width: total, height: 1 }} />
        </Slider>
      )}
    </div>
  );
}

/** The columns that are not hidden. */
function useShown(): Column[] {
  const { job } = useJob();
  return useMemo(() => job.list.columns.filter((c) => !c.hidden), [job.list.columns]);
}

export function useRoles() {
  const { job, changeList } = useJob();
  return (columns: { id: string; role: ColumnRole }[]) =>
    void changeList(() =>
      ask('changeColumn', { params: { id: job.list.id }, body: { does: 'roles', columns } }),
    );
}

function inSight(
  columns: readonly Column[],
  edges: readonly number[],
  x: number,
  width: number,
): [Column, number][] {
  const shown: [Column, number][] = [];
  for (let c = 0; c < columns.length && c + 1 < edges.length; c++)
    if (edges[c + 1]! > x && edges[c]! < x + width) shown.push([columns[c]!, c]);
  return shown;
}

const Beyond = styled.button`
  all: unset;
  box-sizing: border-box;
  width: 100%;
  height: 100%;
  min-height: 52px;
  padding: 0 10px;
  cursor: pointer;
  font-size: 12.5px;
  color: ${colour.violetDeep};
  text-decoration: underline;
  text-underline-offset: 3px;
  &:focus-visible {
    outline: 2px solid ${colour.violet};
    outline-offset: -2px;
  }
`;

/** How many columns lie further right than is seen, and the way to them. */
export function ColumnsBeyond() {
  const { x, width, edges } = scroll.use();
  const beyond = edges.slice(1).filter((e) => e > x + width + 4).length;
  if (beyond === 0) return null;
  return (
    <Beyond type="button" onClick={() => scroll.moveBy(Math.max(cellWidth, width - cellWidth))}>
      {withParts(wording.furtherRight, counted(beyond, 'column'))}
    </Beyond>
  );
}
const GripLine = styled.div`
  position: absolute;
  right: -4px;
  top: 0;
  bottom: 0;
  width: 9px;
  cursor: col-resize;
  touch-action: none;
  z-index: 1;
  &:hover,
  &:focus-visible,
  &[data-pulled] {
    outline: none;
    background: linear-gradient(${colour.violet}, ${colour.violet}) center / 2px 100% no-repeat;
  }
`;

/**
 * The right edge of a heading, which resizes its column: with the pointer, or with the arrow keys.
 */
function Grip({ list, column, width }: { list: number; column: Column; width: number }) {
  const [from, setFrom] = useState<{ at: number; width: number }>();
  const set = (to: number | undefined) => pulled.keep(list, column.id, to);
  return (
    <GripLine
      role="separator"
      aria-orientation="vertical"
      aria-label={filled(wording.widthOf, column.name)}
      aria-valuenow={width}
      aria-valuemin={narrowest}
      aria-valuemax={widest}
      tabIndex={0}
      data-pulled={from ? '' : undefined}
      onPointerDown={(e) => {
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ at: e.clientX, width });
      }}
      onPointerMove={(e) => from && set(from.width + e.clientX - from.at)}
      onPointerUp={() => setFrom(undefined)}
      onDoubleClick={() => set(undefined)}
      onKeyDown={(e) => {
        if (e.key !== 'ArrowLeft' && e.key !== 'ArrowRight') return;
        e.preventDefault();
        e.stopPropagation();
        set(width + (e.key === 'ArrowLeft' ? -16 : 16));
      }}
    />
  );
}

export function RecordsCell({
  record,
  index,
  open,
  inHand,
}: {
  record: LedgerRow;
  /** Its place among those shown. */
  index: number;
  open: boolean;
  inHand: boolean;
}) {
  const { editCell, setProblem, revealed } = useJob();
  const columns = useShown();
  const [editing, setEditing] = useState<string>();
  // text that was typed on the cell and replaces its value
  const [typed, setTyped] = useState<string>();
  const begun = useRef('');
  // text that is being typed; a row that goes away (scrolled, sorted, removed elsewhere) saves it,
  // or reports that it cannot
  const draft = useRef<{ column: string; value: string }>(undefined);
  const leave = useRef<() => void>(undefined);
  useEffect(() => {
    leave.current = () => {
      const typed = draft.current;
      if (
        typed &&
        typed.value !== begun.current &&
        !(isSealed(begun.current) && typed.value === '')
      )
        editCell(record.id, typed.column, typed.value, begun.current);
    };
  });
  useEffect(() => () => leave.current?.(), []);
  const { x, width, cell, edges } = scroll.use();
  const may = useMay();
  const edit = (column: Column | undefined, over?: string) => {
    if (!may) return;
    setTyped(over);
    if (column && over !== undefined) draft.current = { column: column.id, value: over };
    if (column?.worked) setProblem(filled(wording.isWorkedOutFrom, column.name));
    else {
      begun.current = column ? (record.values[column.id] ?? '') : '';
      setEditing(column?.id);
    }
  };
  useCellKeys(open && inHand, { record, index }, columns, edit);
  if (!open) return <FoldedRecords record={record} />;
  // a window that was not given a value cannot show it
  const masked = (column: Column) =>
    isSealed(record.values[column.id] ?? '') ||
    (isSecret(column, columns) && !revealed.has(column.id));
  const commit = (column: Column, value: string, next?: number) => {
    // the value when the editing began, not what another window has put there since
    draft.current = undefined;
    // an empty box over a hidden value changes nothing
    const untouched = value === begun.current || (isSealed(begun.current) && value === '');
    if (!untouched) editCell(record.id, column.id, value, begun.current);
    // worked columns are passed over
    const step = next !== undefined && next < columns.indexOf(column) ? -1 : 1;
    let to = next;
    while (to !== undefined && columns[to]?.worked) to += step;
    edit(to === undefined ? undefined : columns[to]);
    if (to !== undefined && columns[to]) scroll.take(to);
  };
  return (
    <Strip onWheel={(e) => scroll.moveBy(e.deltaX)}>
      {inSight(columns, edges, x, width).map(([column, c]) => {
        const value = record.values[column.id] ?? '';
        const note = record.notes.find((n) => n.column === column.id);
        return (
          <Cell
            key={column.id}
            style={{ left: edges[c]! - x, width: edges[c + 1]! - edges[c]! }}
            data-look={note ? '' : undefined}
            title={
              note ? note.text : masked(column) ? filled(wording.isSecret, column.name) : value
            }
            data-worked={column.worked ? '' : undefined}
            data-hand={inHand && c === cell ? '' : undefined}
            onMouseDown={() => scroll.take(c)}
            onDoubleClick={() => edit(column)}
          >
            {editing === column.id ? (
              <input
                aria-label={filled(wording.ofRecord, column.name, record.number)}
                defaultValue={typed ?? (shown(value) === value ? value : '')}
                placeholder={shown(value) === value ? undefined : wording.secretTypeANew}
                autoFocus
                onFocus={(e) => typed === undefined && e.target.select()}
                onChange={(e) => {
                  draft.current = { column: column.id, value: e.target.value };
                }}
                onBlur={(e) => editing === column.id && commit(column, e.target.value)}
                onKeyDown={(e) => {
                  if (e.key === 'Escape') {
                    draft.current = undefined;
                    setEditing(undefined);
                  } else if (e.key === 'Enter') commit(column, e.currentTarget.value);
                  else if (e.key === 'Tab') {
                    e.preventDefault();
                    commit(column, e.currentTarget.value, c + (e.shiftKey ? -1 : 1));
                  }
                }}
              />
            ) : (
              (masked(column) && value ? '••••••' : value) ||
              (note ? <i style={{ color: colour.look }}>{wording.blank}</i> : '')
            )}
          </Cell>
        );
      })}
    </Strip>
  );
}

/** The worst part of a record's state: its problem. */
function FoldedRecords({ record }: { record: LedgerRow }) {
  const notes = record.notes.filter((n) => n.band === 'records');
  if (notes.length === 0) return null;
  const text = notes.map((n) => n.text).join('; ');
  return (
    <span
      title={text}
      style={{
        display: 'flex',
        gap: 6,
        alignItems: 'center',
        height: '100%',
        padding: '0 8px',
        fontSize: 12,
        color: colour.look,
        whiteSpace: 'nowrap',
      }}
    >
      <Mark name="look" label={wording.needsALook} />
      <span style={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>{text}</span>
    </span>
  );
}
