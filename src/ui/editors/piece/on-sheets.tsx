'use client';

import { defaultRunOptions, type RunOptions } from '../../../core/run/plan';
import { placesOn, stockOf } from '../../../core/piece/stock';
import { ChoicePart, Choose, Measure, Part } from '../../kit/controls';
import type { Column } from '../../../core/records/columns';
import type { Setting } from '../../kit/usual';
import { useJob } from '../../shell/ledger/context';
import { PlacePicker } from './place-picker';
import { onSheets as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

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
  const orders = { across: wording.acrossThenDown, down: wording.downThenAcross } as const;
  return [
    {
      id: 'first-seat',
      usual: options.start === usual.start,
      words: filled(wording.fromSeat, options.start),
      part: withParts(
        wording.from,
        <Part
          label={wording.firstSeat}
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
          {withParts(wording.seat, options.start)}
        </Part>,
      ),
    },
    copies,
    {
      id: 'order',
      usual: options.order === usual.order,
      words: orders[options.order],
      part: (
        <ChoicePart
          label={wording.order}
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
    ? filled(
        wording.asManyAsSays,
        columns.find((c) => c.id === options.copiesFrom)?.name ?? wording.aDeletedColumn,
      )
    : options.copies === 1
      ? wording.oneEach
      : filled(wording.each, options.copies);

function CopiesPart() {
  const { job } = useJob();
  const [options, setOptions] = useOptions();
  const { columns } = job.list;
  const numbers = columns
    .filter((c) => !c.hidden)
    .map((c) => ({ id: c.id, name: filled(wording.asManyAsSays, c.name) }));
  return (
    <Part
      label={wording.copies}
      editor={
        <>
          <Measure
            label={wording.piecesForEachRecord}
            value={options.copies}
            min={1}
            max={1000}
            step={1}
            onChange={(copies) => setOptions({ copies, copiesFrom: undefined })}
          />
          <Choose
            label={wording.orFromAColumn}
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
