'use client';

import type { EncodeOptions } from '../../../core/symbology';
import { databarForms } from '../../../core/symbology/databar/encode';
import type { Stamp } from '../../../core/payload/stamp';
import { Check, Measure, Part } from '../../kit/controls';
import { Pick } from '../../kit/pick';

type Options = NonNullable<Stamp['options']>;
interface Props {
  options: Options;
  set: (next: Options) => void;
}

function Toggle({
  label,
  on,
  onChange,
}: {
  label: string;
  on: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <Check on={on} onChange={(on) => onChange(on)}>
      {label}
    </Check>
  );
}

const Wide = ({ options, set }: Props) => (
  <Pick
    label="Wide bars"
    value={options.wide ?? 3}
    onChange={(wide) => set({ ...options, wide })}
    choices={[
      { id: 3, name: 'three modules' },
      { id: 2, name: 'two modules, shorter' },
    ]}
  />
);

const CheckCharacter = ({ options, set }: Props) => (
  <Toggle
    label="with a check character"
    on={options.checkCharacter ?? false}
    onChange={(checkCharacter) => set({ ...options, checkCharacter })}
  />
);

/**
 * What a symbology lets one choose, and how its choice reads in the sentence. One entry for each
 * symbology that has any.
 */
const editors: Partial<
  Record<
    Stamp['symbology'],
    { words: (o: Options) => string; Editor: (props: Props) => React.ReactNode }
  >
> = {
  'code-39': {
    words: (o) =>
      [
        o.fullAscii ? 'all of ASCII' : 'capitals and digits',
        o.checkCharacter && 'with a check character',
      ]
        .filter(Boolean)
        .join(', '),
    Editor: (props) => (
      <>
        <Toggle
          label="all of ASCII, by pairs of characters"
          on={props.options.fullAscii ?? false}
          onChange={(fullAscii) => props.set({ ...props.options, fullAscii })}
        />
        <CheckCharacter {...props} />
        <Wide {...props} />
      </>
    ),
  },
  codabar: {
    words: (o) => (o.checkCharacter ? 'with a check character' : 'without a check character'),
    Editor: (props) => (
      <>
        <CheckCharacter {...props} />
        <Wide {...props} />
      </>
    ),
  },
  itf: { words: (o) => `wide bars of ${o.wide ?? 3} modules`, Editor: Wide },
  'itf-14': { words: (o) => `wide bars of ${o.wide ?? 3} modules`, Editor: Wide },
  'data-matrix': {
    words: (o) => (o.shape === 'rectangle' ? 'a rectangle' : 'a square'),
    Editor: Shape,
  },
  'gs1-data-matrix': {
    words: (o) => (o.shape === 'rectangle' ? 'a rectangle' : 'a square'),
    Editor: Shape,
  },
  aztec: {
    words: (o) => `${o.correction ?? 23}% for correction`,
    Editor: ({ options, set }) => (
      <Measure
        label="Share kept for error correction, %"
        value={options.correction ?? 23}
        min={5}
        max={90}
        step={1}
        onChange={(correction) => set({ ...options, correction })}
      />
    ),
  },
  rmqr: {
    words: (o) => `at most ${o.maxRows ?? 17} modules high`,
    Editor: ({ options, set }) => (
      <Pick
        label="At most this high, modules"
        value={options.maxRows ?? 17}
        onChange={(maxRows) => set({ ...options, maxRows })}
        choices={[7, 9, 11, 13, 15, 17].map((n) => ({ id: n, name: String(n) }))}
      />
    ),
  },
  pdf417: {
    words: (o) =>
      [
        o.pdf417Columns ? `${o.pdf417Columns} columns` : 'as wide as suits',
        o.pdf417Level === undefined ? 'usual correction' : `correction level ${o.pdf417Level}`,
        o.pdf417Compact && 'compact',
      ]
        .filter(Boolean)
        .join(', '),
    Editor: ({ options, set }) => (
      <>
        <Measure
          label="Columns of data (0: as suits)"
          value={options.pdf417Columns ?? 0}
          min={0}
          max={30}
          step={1}
          onChange={(n) => set({ ...options, pdf417Columns: n || undefined })}
        />
        <Measure
          label="Correction level, 0 to 8 (-1: as usual)"
          value={options.pdf417Level ?? -1}
          min={-1}
          max={8}
          step={1}
          onChange={(n) => set({ ...options, pdf417Level: n < 0 ? undefined : n })}
        />
        <Toggle
          label="compact, for places where nothing is damaged"
          on={options.pdf417Compact ?? false}
          onChange={(pdf417Compact) => set({ ...options, pdf417Compact })}
        />
      </>
    ),
  },
  'gs1-databar': {
    words: (o) => (o.databar ?? 'the form that suits').replaceAll('-', ' '),
    Editor: ({ options, set }) => (
      <>
        <Pick
          label="Form"
          value={options.databar ?? ''}
          onChange={(id) =>
            set({ ...options, databar: id === '' ? undefined : (id as EncodeOptions['databar']) })
          }
          choices={[
            { id: '', name: 'as suits' },
            ...databarForms.map((id) => ({ id, name: id.replaceAll('-', ' ') })),
          ]}
        />
        {options.databar === 'expanded-stacked' && (
          <Measure
            label="Segments in a row"
            value={options.segmentsPerRow ?? 4}
            min={2}
            max={20}
            step={2}
            onChange={(segmentsPerRow) => set({ ...options, segmentsPerRow })}
          />
        )}
      </>
    ),
  },
};

function Shape({ options, set }: Props) {
  return (
    <Pick
      label="Shape"
      value={options.shape ?? 'square'}
      onChange={(shape) => set({ ...options, shape })}
      choices={[
        { id: 'square', name: 'square' },
        { id: 'rectangle', name: 'rectangle, for narrow places' },
      ]}
    />
  );
}

/** The part of the sentence in brackets behind the symbology, where it has choices of its own. */
export function OptionsPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const entry = editors[stamp.symbology];
  if (!entry) return null;
  const options = stamp.options ?? {};
  return (
    <>
      {' '}
      (
      <Part
        label="Choices of its own"
        editor={<entry.Editor options={options} set={(next) => change({ options: next })} />}
      >
        {entry.words(options)}
      </Part>
      )
    </>
  );
}
