'use client';

import { counted } from '../../../core/base/words';
import type * as contract from '../../../contract';

import { useState } from 'react';
import { isSecret, type Column } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import {
  Check,
  ChoicePart,
  MainButton,
  PlainButton,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { useMay } from '../../kit/me';
import { useJob } from '../../shell/ledger/context';
import type { Condition } from '../../shell/ledger/view';
import { Pick } from '../../kit/pick';
import { columnEditor as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

function useChange() {
  const { job, changeList } = useJob();
  return (body: contract.ColumnsChange) =>
    void changeList(() => ask('changeColumn', { params: { id: job.list.id }, body }));
}

/**
 * Everything about one column: its name, its place, which of its values are shown and in which
 * order.
 */
export function ColumnEditor({ column, close }: { column: Column; close: () => void }) {
  const { job, view, setView, revealed, reveal } = useJob();
  const may = useMay();
  const change = useChange();
  const [name, setName] = useState(column.name);
  const own = view.where.find((c) => c.column === column.id);
  const [is, setIs] = useState<Condition['is']>(own?.is ?? 'holds');
  const [text, setText] = useState(own?.text ?? '');
  const { columns } = job.list;
  const at = columns.findIndex((c) => c.id === column.id);
  // past hidden columns, too: the column visibly moves
  const left = columns.findLastIndex((c, i) => i < at && !c.hidden);
  const right = columns.findIndex((c, i) => i > at && !c.hidden);
  const others = view.where.filter((c) => c.column !== column.id);
  const secret = isSecret(column, columns);
  const needsText = is === 'is' || is === 'holds';
  return (
    <div style={{ display: 'grid', gap: 12, width: 320 }}>
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <QuietButton
          looks
          aria-pressed={view.sort === `${column.id}:up`}
          onPress={() => setView({ sort: `${column.id}:up` })}
        >
          {wording.sortAZ0}
        </QuietButton>
        <QuietButton
          looks
          aria-pressed={view.sort === `${column.id}:down`}
          onPress={() => setView({ sort: `${column.id}:down` })}
        >
          {wording.sortZA9}
        </QuietButton>
        {view.sort && (
          <QuietButton looks onPress={() => setView({ sort: undefined })}>
            {wording.originalOrder}
          </QuietButton>
        )}
      </div>
      <form
        style={{ display: 'grid', gap: 8 }}
        onSubmit={(e) => {
          e.preventDefault();
          setView({ where: [...others, { column: column.id, is, text: needsText ? text : '' }] });
          close();
        }}
      >
        <Pick
          looks
          label={filled(wording.showOnlyRecordsWhose, column.name)}
          value={is}
          onChange={setIs}
          choices={[
            { id: 'holds', name: 'holds' },
            { id: 'is', name: 'is' },
            { id: 'blank', name: wording.isBlank },
            { id: 'filled', name: wording.isFilled },
          ]}
        />
        {needsText && <Words label={wording.text} value={text} onChange={setText} />}
        <div style={{ display: 'flex', gap: 8 }}>
          <QuietButton looks type="submit" isDisabled={needsText && text.trim() === ''}>
            {wording.showOnlyThose}
          </QuietButton>
          {own && (
            <PlainButton looks onPress={() => setView({ where: others })}>
              {wording.showAllAgain}
            </PlainButton>
          )}
        </div>
      </form>
      <div style={{ display: may ? 'flex' : 'none', gap: 8, alignItems: 'end' }}>
        <Words label={wording.name} value={name} onChange={setName} />
        <MainButton
          isDisabled={name.trim() === '' || name.trim() === column.name || Boolean(column.worked)}
          onPress={() => (
            change({ does: 'rename', id: column.id, name: name.trim(), was: column.name }),
            close()
          )}
          style={{ padding: '5px 11px' }}
        >
          {wording.rename}
        </MainButton>
      </div>
      {column.source && <Small>{withParts(wording.calledInItsSource, column.source)}</Small>}
      <div style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
        <QuietButton
          isDisabled={left < 0}
          onPress={() => change({ does: 'move', id: column.id, to: left })}
        >
          {wording.moveLeft}
        </QuietButton>
        <QuietButton
          isDisabled={right < 0}
          onPress={() => change({ does: 'move', id: column.id, to: right })}
        >
          {wording.moveRight}
        </QuietButton>
        <QuietButton
          onPress={() => (change({ does: 'hide', id: column.id, hidden: true }), close())}
        >
          {wording.hide}
        </QuietButton>
      </div>
      <Check on={secret} onChange={(on) => change({ does: 'secret', id: column.id, secret: on })}>
        <span>{wording.secretHiddenOnScreen}</span>
      </Check>
      {secret && (
        <QuietButton
          aria-pressed={revealed.has(column.id)}
          onPress={() => reveal(column.id, !revealed.has(column.id))}
        >
          {revealed.has(column.id) ? wording.hideItAgain : wording.showItOnThis}
        </QuietButton>
      )}
    </div>
  );
}

/** The columns that are hidden, to be shown again. */
export function HiddenColumns() {
  const { job } = useJob();
  const change = useChange();
  const hidden = job.list.columns.filter((c) => c.hidden);
  if (hidden.length === 0) return null;
  return (
    <>
      ;{' '}
      <ChoicePart
        acts
        label={wording.showAHiddenColumn}
        value={undefined}
        choices={hidden.map((c) => ({ id: c.id, name: c.name }))}
        onChange={(id) => change({ does: 'hide', id, hidden: false })}
      >
        {withParts(wording.hidden, counted(hidden.length, 'column'))}
      </ChoicePart>
    </>
  );
}
