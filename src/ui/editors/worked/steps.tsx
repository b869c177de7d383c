'use client';
import { useQuery } from '@tanstack/react-query';
import {
  type LookedUp,
  type StepField,
  stepOf,
  type WorkedStep,
} from '../../../core/records/steps';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, Measure, Sentence, Small, Words } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { Pick } from '../../kit/pick';
import { steps as wording } from './words';
import { withParts } from '../../kit/with-parts';

export const stepWords = (step: WorkedStep): string => stepOf(step).words(step);

/** The values of a step's fields, by name. */
type Said = Readonly<Record<string, string | number>>;

/** The small editor of one step. */
export function StepEditor({
  step,
  onChange,
}: {
  step: WorkedStep;
  onChange: (step: WorkedStep) => void;
}) {
  const { about, fields } = stepOf(step);
  const said = step as unknown as Said;
  const change = (next: Said) => onChange({ ...step, ...next } as WorkedStep);
  if (fields.length === 0) return <Small>{about}</Small>;
  return fields.map((field, i) => <Field key={i} field={field} said={said} change={change} />);
}

function Field({
  field,
  said,
  change,
}: {
  field: StepField<Said>;
  said: Said;
  change: (next: Said) => void;
}) {
  switch (field.as) {
    case 'text':
      return (
        <Words
          label={field.label}
          value={String(said[field.of])}
          onChange={(text) => (text !== '' || field.blank) && change({ [field.of]: text })}
        />
      );
    case 'sign':
      return (
        <Words
          label={field.label}
          value={String(said[field.of])}
          onChange={(text) => text && change({ [field.of]: Array.from(text).at(-1)!.slice(0, 1) })}
        />
      );
    case 'number':
      return (
        <Measure
          label={field.label}
          value={Number(said[field.of])}
          min={field.min}
          max={field.max}
          step={1}
          onChange={(count) => change({ [field.of]: count })}
        />
      );
    case 'choice':
      return (
        <Pick
          label={field.label}
          choices={field.choices.map((id) => ({ id, name: id }))}
          value={String(said[field.of])}
          onChange={(choice) => change({ [field.of]: choice })}
        />
      );
    case 'other list':
      return (
        <OtherList
          list={Number(said[field.list])}
          by={String(said[field.by])}
          give={String(said[field.give])}
          onChange={(next) =>
            change({ [field.list]: next.list, [field.by]: next.by, [field.give]: next.give })
          }
        />
      );
  }
}

/**
 * In which list the value is looked for, in which of its columns, and which other column is given.
 */
function OtherList({
  onChange,
  ...step
}: LookedUp & {
  onChange: (step: LookedUp) => void;
}) {
  const { job } = useJob();
  const { data, error } = useQuery({
    queryKey: ['lookups'],
    queryFn: () => ask('listLookups'),
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>{wording.loadingTheLists}</Small>;
  const lists = data.lists.filter((l) => l.id !== job.list.id);
  if (lists.length === 0) return <Small>{wording.thereIsNoOther}</Small>;
  const list = lists.find((l) => l.id === step.list);
  const columns = list?.columns.map((c) => ({ id: c.id, name: c.name })) ?? [];
  return (
    <Sentence $minor style={{ maxWidth: 380 }}>
      {withParts(
        wording.itIsLookedUp,
        <ChoicePart
          label={wording.theOtherList}
          value={list && String(list.id)}
          choices={lists.map((l) => ({ id: String(l.id), name: l.name }))}
          onChange={(id) => {
            const next = lists.find((l) => l.id === Number(id))!;
            const key = next.columns.find((c) => c.role === 'key') ?? next.columns[0];
            const give = next.columns.find((c) => c.role === 'name') ?? next.columns[1] ?? key;
            onChange({ ...step, list: next.id, by: key?.id ?? '', give: give?.id ?? '' });
          }}
        />,
        list &&
          withParts(
            wording.inItsColumnAnd,
            <ChoicePart
              label={wording.columnToSearch}
              value={step.by}
              choices={columns}
              onChange={(by) => onChange({ ...step, by })}
            />,
            <ChoicePart
              label={wording.columnToUse}
              value={step.give}
              choices={columns}
              onChange={(give) => onChange({ ...step, give })}
            />,
          ),
      )}
    </Sentence>
  );
}
