'use client';
import * as contract from '../../../../contract';

import { useState } from 'react';
import type { Column } from '../../../../core/records/columns';
import { givenOnce, type Worked, type WorkedSource } from '../../../../core/records/worked';
import { stepDefinitions, stepOf, type WorkedStep } from '../../../../core/records/steps';
import { ask } from '../../../kit/api';
import {
  ChoicePart,
  Choose,
  MainButton,
  Measure,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Words,
} from '../../../kit/controls';
import { useJob } from '../../../shell/ledger/context';
import { ContentEditor } from '../../../editors/stamp/content-editor';
import { PartsWords } from '../../../editors/stamp/purpose-part';
import { WorkedPreview } from './preview';
import { StepEditor, stepWords } from '../../../editors/worked/steps';

/** `was`: what it was when the change was begun. */
type Kept = { id?: string; name: string; worked: Worked; was?: { name: string; worked: Worked } };

function useKeep() {
  const { job, changeList } = useJob();
  const params = { id: job.list.id };
  return {
    keep: (column: Kept) =>
      void changeList(() => ask(contract.keepWorkedColumn, { params, body: column })),
    remove: (id: string) =>
      void changeList(() => ask(contract.removeWorkedColumn, { params, query: { column: id } })),
  };
}

const sources: readonly {
  id: WorkedSource['kind'];
  name: string;
  about: string;
  start: (columns: readonly Column[]) => WorkedSource;
}[] = [
  {
    id: 'join',
    name: 'columns and words joined',
    about: 'Also one column alone, to be changed step by step.',
    start: (columns) => ({
      kind: 'join',
      parts: columns[0] ? [{ kind: 'column', column: columns[0].id }] : [],
    }),
  },
  {
    id: 'series',
    name: 'a number in series',
    about: 'Counted along the list.',
    start: () => ({ kind: 'series', start: 1, by: 1 }),
  },
  {
    id: 'secret',
    name: 'a value nobody can guess',
    about: 'Made once for each record and kept.',
    start: () => ({ kind: 'secret', length: 12 }),
  },
  {
    id: 'link',
    name: 'a link of ours',
    about: 'A short address for each record, which can be pointed elsewhere after printing.',
    start: (columns) => ({
      kind: 'link',
      for: 'anyone',
      parts: [
        { kind: 'text', text: 'https://' },
        ...(columns[0] ? [{ kind: 'column' as const, column: columns[0].id }] : []),
      ],
    }),
  },
  {
    id: 'picture',
    name: 'the picture address of its code',
    about:
      'For a page, a mail or another spreadsheet; every record has one as soon as it is there.',
    start: () => ({ kind: 'picture', stamp: 'stamp-1' }),
  },
  {
    id: 'proof',
    name: 'a proof of other columns',
    about: 'A signature that shows whether they were altered.',
    start: (columns) => ({
      kind: 'proof',
      columns: columns.slice(0, 1).map((c) => c.id),
      key: 'new',
    }),
  },
];

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

function NewColumn({ keep }: { keep: (column: Kept) => void }) {
  const { job } = useJob();
  const [name, setName] = useState('');
  const [kind, setKind] = useState<WorkedSource['kind']>('join');
  return (
    <Part
      acts
      label="Work out a column"
      editor={(close) => (
        <>
          <Words label="Name of the new column" value={name} onChange={setName} autoFocus />
          <Small>It is</Small>
          <Choose
            label="What it is"
            value={kind}
            onChange={setKind}
            choices={sources.map(({ id, name: words, about }) => ({ id, name: words, about }))}
          />
          <div>
            <MainButton
              isDisabled={name.trim() === ''}
              onPress={() => {
                keep({
                  name: name.trim(),
                  worked: {
                    source: sources.find((s) => s.id === kind)!.start(job.list.columns),
                    steps: [],
                  },
                });
                setName('');
                close();
              }}
            >
              Work it out
            </MainButton>
          </div>
        </>
      )}
    >
      Work out a column
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
      <NamePart
        column={column}
        keep={(name) => keep({ id: column.id, name, worked, was: { name: column.name, worked } })}
        remove={remove}
      />{' '}
      is <SourcePart column={column} worked={worked} before={before} change={change} />
      {worked.steps.map((step, i) => (
        <span key={i}>
          ,{' '}
          <StepPart
            column={column}
            worked={worked}
            step={step}
            onKeep={(next) => setStep(i, next)}
          />
        </span>
      ))}
      {'. '}
      {!givenOnce(worked.source) && (
        <span style={{ fontSize: '0.9em' }}>
          <ChoicePart
            acts
            label={`Another step for ${column.name}`}
            value={undefined}
            onChange={(kind) => setAdding(stepOf({ kind }).start)}
            choices={stepDefinitions.map(({ start, name, about }) => ({
              id: start.kind,
              name,
              about,
            }))}
          >
            add a step
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
      label={`Name of ${column.name}`}
      editor={(close) => (
        <>
          <Words label="Name of the column" value={name} onChange={setName} autoFocus />
          <div style={{ display: 'flex', gap: 8 }}>
            <MainButton
              isDisabled={name.trim() === '' || name === column.name}
              onPress={() => (keep(name.trim()), close())}
            >
              Use this
            </MainButton>
            <PlainButton onPress={() => (remove(), close())}>Take the column away</PlainButton>
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
   * It is about to be added: its editor stands open and what it begins with can be used as it is.
   */
  fresh?: boolean;
}) {
  const [held, setHeld] = useState(step);
  const tried: Worked = { ...worked, steps: worked.steps.map((s) => (s === step ? held : s)) };
  return (
    <Part
      label={`A step of ${column.name}`}
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
              Use this
            </MainButton>
            <PlainButton onPress={() => (onKeep(undefined), close())}>
              Leave this step out
            </PlainButton>
          </div>
        </>
      )}
    >
      {stepWords(step)}
    </Part>
  );
}

/** Of which stamp the pictures are. */
function PictureSource({
  source,
  change,
}: {
  source: Extract<WorkedSource, { kind: 'picture' }>;
  change: (next: Partial<Worked>) => void;
}) {
  const { job } = useJob();
  const { stamps } = job.document;
  if (stamps.length < 2) return <>the address of the picture of the record’s code</>;
  return (
    <>
      the address of the picture of the code of{' '}
      <ChoicePart
        label="Of which stamp"
        value={source.stamp}
        onChange={(stamp) => change({ source: { ...source, stamp } })}
        choices={stamps.map((s) => ({ id: s.id, name: s.name }))}
      />
    </>
  );
}

function SourcePart({
  column,
  worked,
  before,
  change,
}: {
  column: Column;
  worked: Worked;
  before: readonly Column[];
  change: (next: Partial<Worked>) => void;
}) {
  const { source } = worked;
  const label = `What ${column.name} is made from`;
  if (source.kind === 'join')
    return (
      <Part
        label={label}
        editor={(close) => (
          <>
            <ContentEditor
              parts={source.parts}
              columns={before}
              onChange={(parts) => (change({ source: { kind: 'join', parts } }), close())}
            />
            <WorkedPreview worked={worked} id={column.id} />
          </>
        )}
      >
        <PartsWords parts={source.parts} empty="nothing yet" />
      </Part>
    );
  if (source.kind === 'series')
    return (
      <Part
        label={label}
        editor={
          <>
            <Measure
              label="The first record has"
              value={source.start}
              min={0}
              max={1e12}
              step={1}
              onChange={(start) => change({ source: { ...source, start } })}
            />
            <Measure
              label="Each next one more by"
              value={source.by}
              min={1}
              max={1000}
              step={1}
              onChange={(by) => change({ source: { ...source, by } })}
            />
            <WorkedPreview worked={worked} id={column.id} />
          </>
        }
      >
        a number in series from {source.start}
        {source.by > 1 && ` in steps of ${source.by}`}
      </Part>
    );
  if (source.kind === 'page') return <>the address of the record’s own page</>;
  if (source.kind === 'picture') return <PictureSource source={source} change={change} />;
  if (source.kind === 'link')
    return (
      <>
        a link of ours {source.for === 'one' ? 'for one person each' : 'for anyone'}, which leads to{' '}
        <Part
          label={label}
          editor={(close) => (
            <ContentEditor
              parts={source.parts}
              columns={before}
              onChange={(parts) => (change({ source: { ...source, parts } }), close())}
            />
          )}
        >
          <PartsWords parts={source.parts} empty="nothing yet" />
        </Part>
      </>
    );
  if (source.kind === 'secret')
    return <>a value nobody can guess, made once for each record and kept</>;
  return (
    <Part
      label={label}
      editor={
        <>
          <Small>It vouches for</Small>
          <div style={{ display: 'flex', flexWrap: 'wrap', gap: 6 }}>
            {before.map((c) => (
              <QuietButton
                key={c.id}
                aria-pressed={source.columns.includes(c.id)}
                onPress={() =>
                  change({
                    source: {
                      ...source,
                      columns: source.columns.includes(c.id)
                        ? source.columns.filter((id) => id !== c.id)
                        : [...source.columns, c.id],
                    },
                  })
                }
              >
                {c.name}
              </QuietButton>
            ))}
          </div>
          <WorkedPreview worked={worked} id={column.id} />
        </>
      }
    >
      a proof of{' '}
      {source.columns
        .map((id) => before.find((c) => c.id === id)?.name ?? 'a removed column')
        .join(', ') || 'nothing yet'}
    </Part>
  );
}
