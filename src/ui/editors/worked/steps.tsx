'use client';
import * as contract from '../../../contract';

import { counted } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import { dateForms, type WorkedStep } from '../../../core/records/worked';
import { ask } from '../../kit/api';
import { ChoicePart, ErrorLine, Measure, Sentence, Small, Words } from '../../kit/controls';
import { useJob } from '../../shell/ledger/context';
import { Pick } from '../../kit/pick';

type Kind = WorkedStep['kind'];

/**
 * Each kind of step: how it begins, how it reads in the sentence, and its name in the list of
 * steps.
 */
export const stepKinds: readonly {
  kind: Kind;
  name: string;
  about: string;
  start: WorkedStep;
  words: (step: never) => string;
}[] = [
  kind(
    'replace',
    'replace',
    'One text by another, everywhere in it.',
    { kind: 'replace', find: ' ', by: '' },
    (s) => `“${s.find}” replaced by ${s.by === '' ? 'nothing' : `“${s.by}”`}`,
  ),
  kind(
    'fill',
    'fill up',
    'To a length, with zeros or another sign.',
    { kind: 'fill', to: 4, with: '0', at: 'front' },
    (s) =>
      `filled up to ${s.to} places with ${s.with === '0' ? 'zeros' : `“${s.with}”`}${s.at === 'end' ? ' at its end' : ''}`,
  ),
  kind(
    'case',
    'capitals or small letters',
    'All of it, or the initials.',
    { kind: 'case', to: 'capitals' },
    (s) => `in ${s.to}`,
  ),
  kind(
    'take',
    'take a part',
    'Its first or last characters.',
    { kind: 'take', which: 'first', count: 3 },
    (s) => `its ${s.which} ${counted(s.count, 'character')}`,
  ),
  kind(
    'digits',
    'keep digits',
    'Everything else is left out.',
    { kind: 'digits' },
    () => 'its digits alone',
  ),
  kind(
    'date',
    'write as a date',
    'What is no date for certain becomes blank.',
    { kind: 'date', as: '2026-11-23', first: 'day' },
    (s) => `as a date like ${s.as}, read ${s.first} first`,
  ),
  kind(
    'check-digit',
    'check digit',
    'The check digit of a product number put behind it.',
    { kind: 'check-digit' },
    () => 'with its check digit',
  ),
  kind(
    'percent',
    'percent-encode',
    'For a place in an address.',
    { kind: 'percent' },
    () => 'percent-encoded',
  ),
  kind(
    'fallback',
    'fill blanks',
    'A fixed text where there is nothing.',
    { kind: 'fallback', text: '-' },
    (s) => `or “${s.text}” where it is blank`,
  ),
  kind(
    'lookup',
    'look up in another list',
    'What another list has beside the same value.',
    { kind: 'lookup', list: 0, by: '', give: '' },
    (s) => (s.list === 0 ? 'looked up in another list (say where)' : 'looked up in another list'),
  ),
];

function kind<K extends Kind>(
  id: K,
  name: string,
  about: string,
  start: Extract<WorkedStep, { kind: K }>,
  words: (step: Extract<WorkedStep, { kind: K }>) => string,
) {
  return { kind: id, name, about, start, words: words as (step: never) => string };
}

export const stepWords = (step: WorkedStep): string =>
  stepKinds.find((k) => k.kind === step.kind)!.words(step as never);

/** Choices that are called by their own values. */
const named = <T extends string>(...ids: readonly T[]) => ids.map((id) => ({ id, name: id }));

/** The small editor of one step. */
export function StepEditor({
  step,
  onChange,
}: {
  step: WorkedStep;
  onChange: (step: WorkedStep) => void;
}) {
  switch (step.kind) {
    case 'replace':
      return (
        <>
          <Words
            label="This text"
            value={step.find}
            onChange={(find) => find && onChange({ ...step, find })}
          />
          <Words label="becomes" value={step.by} onChange={(by) => onChange({ ...step, by })} />
        </>
      );
    case 'fill':
      return (
        <>
          <Measure
            label="Places"
            value={step.to}
            min={1}
            max={60}
            step={1}
            onChange={(to) => onChange({ ...step, to })}
          />
          <Words
            label="With"
            value={step.with}
            onChange={(text) =>
              text && onChange({ ...step, with: Array.from(text).at(-1)!.slice(0, 1) })
            }
          />
          <Pick
            label="Where"
            choices={named('front', 'end')}
            value={step.at}
            onChange={(at) => onChange({ ...step, at })}
          />
        </>
      );
    case 'case':
      return (
        <Pick
          label="Letters"
          choices={named('capitals', 'small letters', 'capital initials')}
          value={step.to}
          onChange={(to) => onChange({ ...step, to })}
        />
      );
    case 'take':
      return (
        <>
          <Pick
            label="Which end"
            choices={named('first', 'last')}
            value={step.which}
            onChange={(which) => onChange({ ...step, which })}
          />
          <Measure
            label="Characters"
            value={step.count}
            min={1}
            max={500}
            step={1}
            onChange={(count) => onChange({ ...step, count })}
          />
        </>
      );
    case 'date':
      return (
        <>
          <Pick
            label="Written like"
            choices={named(...dateForms)}
            value={step.as}
            onChange={(as) => onChange({ ...step, as })}
          />
          <Pick
            label="Where the list has 06/07/2026, first comes the"
            choices={named('day', 'month')}
            value={step.first}
            onChange={(first) => onChange({ ...step, first })}
          />
        </>
      );
    case 'fallback':
      return (
        <Words
          label="Where it is blank"
          value={step.text}
          onChange={(text) => onChange({ ...step, text })}
        />
      );
    case 'lookup':
      return <LookupEditor step={step} onChange={onChange} />;
    case 'digits':
    case 'percent':
    case 'check-digit':
      return <Small>{stepKinds.find((k) => k.kind === step.kind)!.about}</Small>;
  }
}

/**
 * In which list the value is looked for, in which of its columns, and which other column is given.
 */
function LookupEditor({
  step,
  onChange,
}: {
  step: Extract<WorkedStep, { kind: 'lookup' }>;
  onChange: (step: WorkedStep) => void;
}) {
  const { job } = useJob();
  const { data, error } = useQuery({
    queryKey: ['lookups'],
    queryFn: () => ask(contract.listLookups),
  });
  if (error) return <ErrorLine>{error.message}</ErrorLine>;
  if (!data) return <Small>Fetching the lists …</Small>;
  const lists = data.lists.filter((l) => l.id !== job.list.id);
  if (lists.length === 0) return <Small>There is no other list to look in yet.</Small>;
  const list = lists.find((l) => l.id === step.list);
  const columns = list?.columns.map((c) => ({ id: c.id, name: c.name })) ?? [];
  return (
    <Sentence $minor style={{ maxWidth: 380 }}>
      It is looked for in the list{' '}
      <ChoicePart
        label="The other list"
        value={list && String(list.id)}
        choices={lists.map((l) => ({ id: String(l.id), name: l.name }))}
        onChange={(id) => {
          const next = lists.find((l) => l.id === Number(id))!;
          const key = next.columns.find((c) => c.role === 'key') ?? next.columns[0];
          const give = next.columns.find((c) => c.role === 'name') ?? next.columns[1] ?? key;
          onChange({ ...step, list: next.id, by: key.id, give: give.id });
        }}
      />
      {list && (
        <>
          {' '}
          in its column{' '}
          <ChoicePart
            label="Column to look in"
            value={step.by}
            choices={columns}
            onChange={(by) => onChange({ ...step, by })}
          />
          , and what stands beside it in{' '}
          <ChoicePart
            label="Column to take"
            value={step.give}
            choices={columns}
            onChange={(give) => onChange({ ...step, give })}
          />{' '}
          is taken.
        </>
      )}
    </Sentence>
  );
}
