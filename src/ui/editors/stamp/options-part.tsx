'use client';

import type { Stamp } from '../../../core/payload/stamp';
import { symbologies } from '../../../core/symbology';
import {
  choiceOf,
  shownOf,
  withChoice,
  type ChoiceId,
  type CodeOptions,
} from '../../../core/symbology/choices';
import { Check, Measure, Part } from '../../kit/controls';
import { Pick } from '../../kit/pick';
import { optionsPart as wording } from './words';

function Chosen({
  id,
  options,
  set,
}: {
  id: ChoiceId;
  options: CodeOptions;
  set: (next: CodeOptions) => void;
}) {
  const choice = choiceOf(id);
  const { label } = choice;
  const value = shownOf(id, options);
  const say = (said: string | number | boolean) => set(withChoice(id, options, said));
  if (choice.as === 'tick')
    return (
      <Check on={value === true} onChange={say}>
        {label}
      </Check>
    );
  if (choice.as === 'number')
    return (
      <Measure
        label={label}
        value={Number(value)}
        min={choice.min}
        max={choice.max}
        step={choice.step}
        onChange={say}
      />
    );
  return (
    <Pick label={label} value={value as string | number} onChange={say} choices={choice.choices} />
  );
}

/** The part of the sentence in brackets after the code type, if it has settings of its own. */
export function OptionsPart({
  stamp,
  change,
}: {
  stamp: Stamp;
  change: (next: Partial<Stamp>) => void;
}) {
  const { choices } = symbologies[stamp.symbology];
  if (!choices) return null;
  const options = stamp.options ?? {};
  return (
    <>
      {' '}
      (
      <Part
        label={wording.settingsOfThisCode}
        editor={choices.asks(options).map((id) => (
          <Chosen key={id} id={id} options={options} set={(next) => change({ options: next })} />
        ))}
      >
        {choices.words(options)}
      </Part>
      )
    </>
  );
}
