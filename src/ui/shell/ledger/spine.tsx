'use client';
import { styled } from 'styled-components';
import type { LedgerRow } from '../../../contract';
import { keyColumn, nameColumn } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { ask } from '../../kit/api';
import { Mark, markWords, type MarkName } from '../../kit/mark';
import { colour, font } from '../../kit/theme';
import { bandNames, useHand, useJob, type Band } from './context';
import { useOthers } from './presence';
import { viewQuery } from './view';
import { spine as wording } from '../words';
import { filled, withParts } from '../../kit/with-parts';

const Spine = styled.div`
  display: flex;
  align-items: center;
  gap: 9px;
  padding: 0 10px 0 12px;
  .marks {
    display: flex;
    gap: 4px;
    align-items: center;
  }
  .title {
    flex: 1;
    min-width: 0;
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  [aria-selected='true'] & .title {
    font-weight: 700;
  }
  .key {
    font: 400 13px/1 ${font.code};
    color: ${colour.inkSoft};
    max-width: 120px;
    flex: none;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .key.blank {
    color: ${colour.look};
    font-weight: 700;
  }
  input {
    margin: 0 2px 0 0;
    accent-color: ${colour.violet};
  }
`;
/** Above the spine: the selected row, or how many are ticked. */
export function SpineHead() {
  const { total, ticked, tick, rowAt } = useJob();
  const { hand } = useHand();
  return (
    <div style={{ padding: '7px 10px 6px 12px' }}>
      <b style={{ font: `700 16px/1.2 ${font.title}` }}>{wording.record}</b>
      <span style={{ display: 'block', fontSize: 12.5, color: colour.inkSoft, marginTop: 1 }}>
        {ticked.size > 0
          ? withParts(
              wording.ticked,
              ticked.size.toLocaleString('en'),
              <button
                type="button"
                style={{ all: 'unset', cursor: 'pointer', textDecoration: 'underline' }}
                onClick={() => tick([...ticked], false)}
              >
                {wording.none}
              </button>,
            )
          : total > 0
            ? filled(
                wording.rowOf,
                (rowAt(hand)?.number ?? hand + 1).toLocaleString('en'),
                total.toLocaleString('en'),
              )
            : wording.noRecords}
      </span>
    </div>
  );
}

const Here = styled.span`
  flex: none;
  font: 700 11px/18px ${font.text};
  padding: 0 5px;
  border-radius: 3px;
  background: ${colour.violet};
  color: #fff;
`;
const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((word) => [...word][0] ?? '')
    .slice(0, 2)
    .join('');

/** The row ticked last: with Shift, everything from there on is ticked too. */
let lastTicked = 0;

/** What never scrolls away of a record: its tick, four marks, title and key. */
export function SpineCell({ record, index }: { record: LedgerRow | undefined; index: number }) {
  const { job, ticked, tick, view } = useJob();
  const others = useOthers();
  const here = others.filter((other) => record && other.record === record.id);
  const tickOne = (on: boolean, range: boolean) => {
    const [from, to] = [Math.min(lastTicked, index), Math.max(lastTicked, index)];
    lastTicked = index;
    if (!range || from === to) return tick([record!.id], on);
    void ask('jobRowIds', { params: { id: job.id }, query: viewQuery(view) }).then(({ ids }) =>
      tick(ids.slice(from, to + 1), on),
    );
  };
  if (!record)
    return (
      <Spine role="rowheader">
        <span className="title" style={{ color: colour.out }}>
          …
        </span>
      </Spine>
    );
  const key = keyColumn(job.list.columns);
  const name = nameColumn(job.list.columns) ?? key ?? job.list.columns[0];
  const title = shown(record.values[name?.id ?? ''] ?? '') || wording.noTitle;
  const keyText = key && key !== name ? shown(record.values[key.id] ?? '') : undefined;
  const marks: [Band, MarkName][] = [
    ['records', record.marks.records],
    ['stamps', record.marks.stamps],
    ['piece', record.marks.piece],
    ['run', record.marks.run ?? (record.marks.overall === 'out' ? 'out' : 'none')],
  ];
  return (
    <Spine role="rowheader">
      <input
        type="checkbox"
        checked={ticked.has(record.id)}
        onChange={(e) => tickOne(e.target.checked, (e.nativeEvent as MouseEvent).shiftKey)}
        aria-label={filled(wording.tick, title)}
        tabIndex={-1}
      />
      <span
        className="marks"
        role="img"
        aria-label={marks
          .map(([band, mark]) => `${bandNames[band]}: ${markWords[mark]}`)
          .join(', ')}
      >
        {marks.map(([band, mark]) => (
          <Mark key={band} name={mark} />
        ))}
      </span>
      <span className="title" title={title}>
        {title}
      </span>
      {here.length > 0 && (
        <Here
          title={filled(
            wording.atThisRecord,
            here.map((o) => o.name).join(', '),
            here.length > 1 ? 'are' : 'is',
          )}
        >
          {initials(here[0]!.name)}
        </Here>
      )}
      {keyText !== undefined && (
        <span className={keyText.trim() ? 'key' : 'key blank'} title={keyText}>
          {keyText.trim() || 'blank'}
        </span>
      )}
    </Spine>
  );
}
