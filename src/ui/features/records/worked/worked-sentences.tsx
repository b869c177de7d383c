'use client';
import { useState } from 'react';
import type { Column } from '../../../../core/records/columns';
import { beginningDefinitions, beginningOf } from '../../../../core/records/beginnings';
import { givenOnce, type Worked } from '../../../../core/records/worked';
import { stepDefinitions, stepOf, type WorkedStep } from '../../../../core/records/steps';
import { ask } from '../../../kit/api';
import {
  ChoicePart,
  Choose,
  MainButton,
  Part,
  PlainButton,
  Sentence,
  Small,
  Words,
} from '../../../kit/controls';
import { useJob } from '../../../shell/ledger/context';
import { BeginningPart } from './beginning-part';
import { WorkedPreview } from './preview';
import { StepEditor, stepWords } from '../../../editors/worked/steps';
import { workedSentences as wording } from '../words';
import { filled, withParts } from '../../../kit/with-parts';

/** `was`: its value when the change began. */
type Kept = { id?: string; name: string; worked: Worked; was?: { name: string; worked: Worked } };

function useKeep() {
  const { job, changeList } = useJob();
  const params = { id: job.list.id };
  return {
    keep: (column: Kept) =>
      void changeList(() => ask('keepWorkedColumn', { params, body: column })),
    remove: (id: string) =>
      void changeList(() => ask('removeWorkedColumn', { params, query: { column: id } })),
  };
}

/** The worked columns of the list, each as a sentence, and the way to a new one. */
export function WorkedSentences() {
  const { job } = useJob();
  const { keep, remove } = useKeep();
  const { columns } = job.list;
  return (
    <>
      {columns.map(
        (column, i) =>
          column.worked && (
            <WorkedSentence
              key={column.id}
              column={column}
              worked={column.worked}
              before={columns.slice(0, i)}
              keep={keep}
              remove={() => remove(column.id)}
            />
          ),
      )}
      <Sentence $minor style={{ paddingTop: 3 }}>
        <NewColumn keep={keep} />
      </Sentence>
    </>
  );
}

/** What a new column can begin with. */
const offered = [...beginningDefinitions].filter(([, { start }]) => start !== undefined);

function NewColumn({ keep }: { keep: (column: Kept) => void }) {
  const { job } = useJob();
  const [name, setName] = useState('');
  const [kind, setKind] = useState(offered[0]![0]);
  return (
    <Part
      acts
      label={wording.addAWorkedColumn}
      editor={(close) => (
        <>
          <Words label={wording.nameOfTheNew} value={name} onChange={setName} autoFocus />
          <Small>{wording.itIs}</Small>
          <Choose
            label={wording.whatItIs}
            value={kind}
            onChange={setKind}
            choices={offered.map(([id, { name: words, about }]) => ({ id, name: words, about }))}
          />
          <div>
            <MainButton
              isDisabled={name.trim() === ''}
              onPress={() => {
                keep({
                  name: name.trim(),
                  worked: {
                    source: beginningOf({ kind }).start!(job.list.columns),
                    steps: [],
                  },
                });
                setName('');
                close();
              }}
            >
              {wording.createColumn}
            </MainButton>
          </div>
        </>
      )}
    >
      {wording.addAWorkedColumn}
    </Part>
  );
}

function WorkedSentence({
  column,
  worked,
  before,
  keep,
  remove,
}: {
  column: Column;
  worked: Worked;
  before: readonly Column[];
  keep: (column: Kept) => void;
  remove: () => void;
}) {
  const [adding, setAdding] = useState<WorkedStep>();
  const change = (next: Partial<Worked>) =>
    keep({
      id: column.id,
      name: column.name,
      worked: { ...worked, ...next },
      was: { name: column.name, worked },
    });
  const setStep = (i: number, step: WorkedStep | undefined) =>
    change({
      steps: step
        ? worked.steps.map((s, k) => (k === i ? step : s))
        : worked.steps.filter((_, k) => k !== i),
    });
  return (
    <Sentence $minor>
      {withParts(
        wording.is,
        <NamePart
          column={column}
          keep={(name) => keep({ id: column.id, name, worked, was: { name: column.name, worked } })}
          remove={remove}
        />,
        <BeginningPart
          column={column}
          worked={worked}
          before={before}
          change={(source) => change({ source })}
        />,
        worked.steps.map((step, i) => (
          <span key={i}>
            ,{' '}
            <StepPart
              column={column}
              worked={worked}
              step={step}
              onKeep={(next) => setStep(i, next)}
            />
          </span>
        )),
        '. ',
        !givenOnce(worked.source) && (
          <span style={{ fontSize: '0.9em' }}>
            <ChoicePart
              acts
              label={filled(wording.anotherStepFor, column.name)}
              value={undefined}
              onChange={(kind) => setAdding(stepOf({ kind }).start)}
              choices={stepDefinitions.map(({ start, name, about }) => ({
                id: start.kind,
                name,
                about,
              }))}
            >
              {wording.addAStep}
            </ChoicePart>
            {adding && (
              <>
                {': '}
                <StepPart
                  column={column}
                  worked={{ ...worked, steps: [...worked.steps, adding] }}
                  step={adding}
                  fresh
                  onKeep={(step) => {
                    setAdding(undefined);
                    if (step) change({ steps: [...worked.steps, step] });
                  }}
                />
              </>
            )}
          </span>
        ),
      )}
    </Sentence>
  );
}

function NamePart({
  column,
  keep,
  remove,
}: {
  column: Column;
  keep: (name: string) => void;
  remove: () => void;
}) {
  const [name, setName] = useState(column.name);
  return (
    <Part
      label={filled(wording.nameOf, column.name)}
      editor={(close) => (
        <>
          <Words label={wording.nameOfTheColumn} value={name} onChange={setName} autoFocus />
          <div style={{ display: 'flex', gap: 8 }}>
            <MainButton
              isDisabled={name.trim() === '' || name === column.name}
              onPress={() => (keep(name.trim()), close())}
            >
              {wording.apply}
            </MainButton>
            <PlainButton onPress={() => (remove(), close())}>{wording.deleteColumn}</PlainButton>
          </div>
        </>
      )}
    >
      {column.name}
    </Part>
  );
}

function StepPart({
  column,
  worked,
  step,
  onKeep,
  fresh = false,
}: {
  column: Column;
  worked: Worked;
  step: WorkedStep;
  onKeep: (step: WorkedStep | undefined) => void;
  /**
   * It is about to be added: its editor is open, and the suggested beginning can be used as it is.
   */
  fresh?: boolean;
}) {
  const [held, setHeld] = useState(step);
  const tried: Worked = { ...worked, steps: worked.steps.map((s) => (s === step ? held : s)) };
  return (
    <Part
      label={filled(wording.aStepOf, column.name)}
      defaultOpen={fresh}
      editor={(close) => (
        <>
          <StepEditor step={held} onChange={setHeld} />
          {!stepOf(held).unfinished?.(held) && <WorkedPreview worked={tried} id={column.id} />}
          <div style={{ display: 'flex', gap: 8 }}>
            <MainButton
              isDisabled={
                (!fresh && JSON.stringify(held) === JSON.stringify(step)) ||
                stepOf(held).unfinished?.(held) === true
              }
              onPress={() => (onKeep(held), close())}
            >
              {wording.apply}
            </MainButton>
            <PlainButton onPress={() => (onKeep(undefined), close())}>
              {wording.removeThisStep}
            </PlainButton>
          </div>
        </>
      )}
    >
      {stepWords(step)}
    </Part>
  );
}
