'use client';

import { defaultRunOptions, type RunOptions } from '../../../core/run/plan';
import { placesOn, stockOf } from '../../../core/piece/stock';
import { ChoicePart, Choose, Measure, Part } from '../../kit/controls';
import type { Column } from '../../../core/records/columns';
import type { Setting } from '../../kit/usual';
import { useJob } from '../../shell/ledger/context';
import { PlacePicker } from './place-picker';

export function useOptions() {
  const { job, save } = useJob();
  const options = job.document.options ?? defaultRunOptions;
  return [
    options,
    (next: Partial<RunOptions>) => save((d) => ({ ...d, options: { ...d.options, ...next } })),
  ] as const;
}

/**
 * Where the pieces go on their sheets and how many there are of each: the same settings in the
 * sentences of the piece and of the run.
 */
export function useSheetSettings(): Setting[] {
  const { job } = useJob();
  const [options, setOptions] = useOptions();
  const stock = stockOf(job.document.piece);
  const usual = defaultRunOptions;
  const copies: Setting = {
    id: 'copies',
    usual: options.copies === usual.copies && !options.copiesFrom,
    words: copiesWords(options, job.list.columns),
    part: <CopiesPart />,
  };
  if (placesOn(stock) === 1) return [copies];
  const orders = { across: 'across then down', down: 'down then across' } as const;
  return [
    {
      id: 'first-seat',
      usual: options.start === usual.start,
      words: `from seat ${options.start}`,
      part: (
        <>
          from{' '}
          <Part
            label="First seat"
            editor={(close) => (
              <PlacePicker
                stock={stock}
                order={options.order}
                start={options.start}
                onPick={(start) => {
                  setOptions({ start });
                  close();
                }}
              />
            )}
          >
            seat {options.start}
          </Part>
        </>
      ),
    },
    copies,
    {
      id: 'order',
      usual: options.order === usual.order,
      words: orders[options.order],
      part: (
        <ChoicePart
          label="Order"
          value={options.order}
          onChange={(order) => setOptions({ order })}
          choices={(['across', 'down'] as const).map((id) => ({ id, name: orders[id] }))}
        />
      ),
    },
  ];
}

const copiesWords = (options: RunOptions, columns: readonly Column[]): string =>
  options.copiesFrom
    ? `as many as ${columns.find((c) => c.id === options.copiesFrom)?.name ?? 'a deleted column'} says`
    : options.copies === 1
      ? 'one each'
      : `${options.copies} each`;

function CopiesPart() {
  const { job } = useJob();
  const [options, setOptions] = useOptions();
  const { columns } = job.list;
  const numbers = columns
    .filter((c) => !c.hidden)
    .map((c) => ({ id: c.id, name: `as many as ${c.name} says` }));
  return (
    <Part
      label="Copies"
      editor={
        <>
          <Measure
            label="Pieces for each record"
            value={options.copies}
            min={1}
            max={1000}
            step={1}
            onChange={(copies) => setOptions({ copies, copiesFrom: undefined })}
          />
          <Choose
            label="or from a column"
            value={options.copiesFrom}
            choices={numbers}
            onChange={(copiesFrom) => setOptions({ copiesFrom })}
          />
        </>
      }
    >
      {copiesWords(options, columns)}
    </Part>
  );
}
