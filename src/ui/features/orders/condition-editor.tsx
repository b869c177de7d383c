'use client';

import { useState } from 'react';
import type { Condition } from '../../../core/orders/conditions';
import { Choose, MainButton, PlainButton, Words } from '../../kit/controls';
import { Scroll } from '../../kit/scroll';
import type { Held } from './use-order';
import { conditionEditor as wording } from './words';

type Of = Condition['of'];
const comparisons = [
  { id: 'is', name: 'is' },
  { id: 'is-not', name: wording.isNot },
  { id: 'filled', name: wording.isNotBlank },
  { id: 'blank', name: wording.isBlank },
  { id: 'contains', name: 'contains' },
  { id: 'begins', name: wording.beginsWith },
  { id: 'ends', name: wording.endsWith },
  { id: 'before', name: wording.isBeforeADay },
  { id: 'more', name: wording.isAfterADay },
] as const;

/** A condition of an order. */
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
    { id: 'column', name: wording.theValueOfA },
    { id: 'done', name: wording.whetherThisWasDone },
    { id: 'fits', name: wording.whetherItsStampsFit },
    ...(file || when.kind === 'call'
      ? [{ id: 'record' as const, name: wording.whetherItsRecordIs }]
      : []),
    ...(file
      ? [
          { id: 'ending' as const, name: wording.whatKindOfFile },
          { id: 'bytes' as const, name: wording.howLargeItIs },
          { id: 'pages' as const, name: wording.howManyPagesIt },
        ]
      : []),
  ];
  return (
    <div style={{ display: 'grid', gap: 12, width: 400 }}>
      {of === undefined ? (
        <Choose
          label={wording.whatToCheck}
          value={undefined}
          onChange={(id) => (id === 'fits' || id === 'record' ? onUse({ of: id }) : setOf(id))}
          choices={kinds}
        />
      ) : (
        <Fields of={of} condition={condition} columns={columns} onUse={onUse} />
      )}
      {onLeave && (
        <div>
          <PlainButton onPress={onLeave}>{wording.deleteCondition}</PlainButton>
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
        label={wording.whetherItWasDone}
        value={condition?.of === 'done' ? (condition.done ? 'yes' : 'no') : undefined}
        onChange={(id) => onUse({ of, done: id === 'yes' })}
        choices={[
          { id: 'no', name: wording.itWasNotDone },
          { id: 'yes', name: wording.itWasDoneFor },
        ]}
      />
    );
  if (of === 'fits' || of === 'record')
    return <MainButton onPress={() => onUse({ of })}>{wording.apply}</MainButton>;
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
          <Scroll label={wording.whichColumn}>
            <Choose
              label={wording.column}
              value={column}
              onChange={setColumn}
              choices={columns.map((c) => ({ id: c.id, name: c.name }))}
            />
          </Scroll>
          <Scroll label={wording.whichComparison}>
            <Choose label={wording.comparison} value={is} onChange={setIs} choices={comparisons} />
          </Scroll>
          {wantsValue && <Words label={wording.value} value={value} onChange={setValue} />}
        </>
      )}
      {of === 'ending' && (
        <Words label={wording.fileEndingSuchAs} value={value} onChange={setValue} autoFocus />
      )}
      {(of === 'bytes' || of === 'pages') && (
        <>
          <Choose
            label={wording.howMany}
            value={more}
            onChange={setMore}
            choices={[
              { id: 'at-most', name: wording.atMost },
              { id: 'more', name: wording.moreThan },
            ]}
          />
          <Words
            label={of === 'bytes' ? wording.megabytes : 'Pages'}
            value={number}
            onChange={setNumber}
          />
        </>
      )}
      <div>
        <MainButton isDisabled={!next} onPress={() => next && onUse(next)}>
          {wording.apply}
        </MainButton>
      </div>
    </>
  );
}
