'use client';

import { defaultRunOptions, type RunOptions } from '../../../core/run/plan';
import { placesOn, stockOf } from '../../../core/piece/stock';
import { ChoicePart, Choose, Measure, Part } from '../../kit/controls';
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
 * Where the pieces go on their sheets and how many there are of each: the same parts in the
 * sentences of the piece and of the run.
 */
export function OnSheetsParts() {
  const { job } = useJob();
  const [options, setOptions] = useOptions();
  const stock = stockOf(job.document.piece);
  const several = placesOn(stock) > 1;
  return (
    <>
      {several && (
        <>
          , from{' '}
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
      )}
      , <CopiesPart />
      {several && (
        <>
          ,{' '}
          <ChoicePart
            label="Order"
            value={options.order}
            onChange={(order) => setOptions({ order })}
            choices={[
              { id: 'across', name: 'across then down' },
              { id: 'down', name: 'down then across' },
            ]}
          />
        </>
      )}
    </>
  );
}

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
      {options.copiesFrom
        ? `as many as ${columns.find((c) => c.id === options.copiesFrom)?.name ?? 'a deleted column'} says`
        : options.copies === 1
          ? 'one each'
          : `${options.copies} each`}
    </Part>
  );
}
