'use client';

import { useState } from 'react';
import type { Condition } from '../../../core/orders/conditions';
import { Choose, MainButton, PlainButton, Words } from '../../kit/controls';
import { Scroll } from '../../kit/scroll';
import type { Held } from './use-order';

type Of = Condition['of'];
const comparisons = [
  { id: 'is', name: 'is' },
  { id: 'is-not', name: 'is not' },
  { id: 'filled', name: 'is not blank' },
  { id: 'blank', name: 'is blank' },
  { id: 'contains', name: 'contains' },
  { id: 'begins', name: 'begins with' },
  { id: 'ends', name: 'ends with' },
  { id: 'before', name: 'is before (a day, or less than a number)' },
  { id: 'more', name: 'is after (a day, or more than a number)' },
] as const;

/** One thing that must hold before an order goes on. */
export function ConditionEditor({
  held,
  condition,
  onUse,
  onLeave,
}: {
  held: Held;
  condition?: Condition;
  onUse: (condition: Condition) => void;
  onLeave?: () => void;
}) {
  const { when } = held.view.document;
  const [of, setOf] = useState<Of | undefined>(condition?.of);
  const columns = held.columnsBefore(0);
  const file = when.kind === 'document';
  const kinds: readonly { id: Of; name: string; about?: string }[] = [
    { id: 'column', name: 'the value of a column' },
    { id: 'done', name: 'whether this was done before for the record' },
    { id: 'fits', name: 'whether its stamps fit' },
    ...(file || when.kind === 'call'
      ? [{ id: 'record' as const, name: 'whether its record is known' }]
      : []),
    ...(file
      ? [
          { id: 'ending' as const, name: 'what kind of file it is' },
          { id: 'bytes' as const, name: 'how large it is' },
          { id: 'pages' as const, name: 'how many pages it has' },
        ]
      : []),
  ];
  return (
    <div style={{ display: 'grid', gap: 12, width: 400 }}>
      {of === undefined ? (
        <Choose
          label="What to check"
          value={undefined}
          onChange={(id) => (id === 'fits' || id === 'record' ? onUse({ of: id }) : setOf(id))}
          choices={kinds}
        />
      ) : (
        <Fields of={of} condition={condition} columns={columns} onUse={onUse} />
      )}
      {onLeave && (
        <div>
          <PlainButton onPress={onLeave}>Delete condition</PlainButton>
        </div>
      )}
    </div>
  );
}

function Fields({
  of,
  condition,
  columns,
  onUse,
}: {
  of: Of;
  condition: Condition | undefined;
  columns: readonly { id: string; name: string }[];
  onUse: (condition: Condition) => void;
}) {
  const own = condition?.of === 'column' ? condition : undefined;
  const sized = condition?.of === 'bytes' || condition?.of === 'pages' ? condition : undefined;
  const [column, setColumn] = useState(own?.column);
  const [is, setIs] = useState(own?.is ?? ('filled' as const));
  const [value, setValue] = useState(
    own?.value ?? (condition?.of === 'ending' ? condition.value : ''),
  );
  const [more, setMore] = useState(sized?.is ?? ('at-most' as const));
  const unit = of === 'bytes' ? 1_000_000 : 1;
  const [number, setNumber] = useState(sized ? String(sized.value / unit) : '');
  if (of === 'done')
    return (
      <Choose
        label="Whether it was done"
        value={condition?.of === 'done' ? (condition.done ? 'yes' : 'no') : undefined}
        onChange={(id) => onUse({ of, done: id === 'yes' })}
        choices={[
          { id: 'no', name: 'it was not done for this record yet' },
          { id: 'yes', name: 'it was done for this record before' },
        ]}
      />
    );
  if (of === 'fits' || of === 'record')
    return <MainButton onPress={() => onUse({ of })}>Apply</MainButton>;
  const wantsValue = is !== 'blank' && is !== 'filled';
  const amount = Number(number.replace(',', '.'));
  const next: Condition | undefined =
    of === 'column'
      ? column
        ? { of, column, is, value: wantsValue ? value.trim() : '' }
        : undefined
      : of === 'ending'
        ? value.trim()
          ? { of, value: value.trim() }
          : undefined
        : number.trim() !== '' && amount >= 0
          ? { of, is: more, value: Math.round(amount * unit) }
          : undefined;
  return (
    <>
      {of === 'column' && (
        <>
          <Scroll label="Which column?">
            <Choose
              label="Column"
              value={column}
              onChange={setColumn}
              choices={columns.map((c) => ({ id: c.id, name: c.name }))}
            />
          </Scroll>
          <Scroll label="Which comparison?">
            <Choose label="Comparison" value={is} onChange={setIs} choices={comparisons} />
          </Scroll>
          {wantsValue && <Words label="Value" value={value} onChange={setValue} />}
        </>
      )}
      {of === 'ending' && (
        <Words label="File ending, such as pdf" value={value} onChange={setValue} autoFocus />
      )}
      {(of === 'bytes' || of === 'pages') && (
        <>
          <Choose
            label="How many"
            value={more}
            onChange={setMore}
            choices={[
              { id: 'at-most', name: 'at most' },
              { id: 'more', name: 'more than' },
            ]}
          />
          <Words
            label={of === 'bytes' ? 'Megabytes' : 'Pages'}
            value={number}
            onChange={setNumber}
          />
        </>
      )}
      <div>
        <MainButton isDisabled={!next} onPress={() => next && onUse(next)}>
          Apply
        </MainButton>
      </div>
    </>
  );
}
