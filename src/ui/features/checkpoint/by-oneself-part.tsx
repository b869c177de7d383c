'use client';

import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ByOneselfView, CheckpointView } from '../../../contract';
import { counted } from '../../../core/base/words';
import type { ByOneself, Question } from '../../../core/checkpoint/by-oneself';
import { isSecret } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import {
  Check,
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  QuietButton,
  Small,
  Words,
} from '../../kit/controls';
import { Pick } from '../../kit/pick';
import type { Setting } from '../../kit/usual';
import { colour } from '../../kit/theme';
import { byOneselfPart as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

/** Whether people check in by themselves, as a setting of the checkpoint's sentence. */
export function useSelfCheckIn(view: CheckpointView): Setting {
  const client = useQueryClient();
  const { data } = useQuery({
    queryKey: ['checkpoint', view.id, 'by-oneself'],
    queryFn: () => ask('viewByOneself', { params: { id: view.id } }),
  });
  const open = data?.document.open === true;
  const questions = data?.document.questions.length ?? 0;
  const words = open
    ? `on${questions > 0 ? filled(wording.with, counted(questions, 'question')) : ''}`
    : 'off';
  return {
    id: 'self-check-in',
    usual: !open,
    words: filled(wording.selfCheckIn, words),
    part: withParts(
      wording.selfCheckIn,
      <Part
        label={wording.selfCheckIn2}
        editor={(close) =>
          data ? (
            <ByOneselfEditor
              view={view}
              now={data}
              done={() => {
                void client.invalidateQueries({ queryKey: ['checkpoint', view.id] });
                close();
              }}
            />
          ) : (
            <Small>…</Small>
          )
        }
      >
        {words}
      </Part>,
    ),
  };
}

const kinds = [
  { id: 'text', name: 'text' },
  { id: 'choice', name: wording.oneChoice },
  { id: 'tick', name: wording.yesOrNo },
  { id: 'number', name: 'number' },
] as const;

function ByOneselfEditor({
  view,
  now,
  done,
}: {
  view: CheckpointView;
  now: ByOneselfView;
  done: () => void;
}) {
  const [document, setDocument] = useState<ByOneself>(now.document);
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const set = (next: Partial<ByOneself>) => setDocument({ ...document, ...next });
  const list = view.lists.find((l) => l.id === view.rule.takes[0]?.list);
  const columns = (list?.columns ?? []).filter((c) => !isSecret(c, list!.columns));
  const setQuestion = (at: number, next: Question | undefined) =>
    set({
      questions: next
        ? document.questions.map((q, i) => (i === at ? next : q))
        : document.questions.filter((_, i) => i !== at),
    });
  const next = 1 + Math.max(0, ...document.questions.map((q) => Number(q.id.slice(1))));
  const save = (open: boolean) => {
    setBusy(true);
    setError(undefined);
    ask('changeByOneself', {
      params: { id: view.id },
      body: {
        version: view.version,
        document: {
          ...document,
          open,
          questions: document.questions.map((question) => ({
            ...question,
            choices: question.choices.map((choice) => choice.trim()).filter(Boolean),
          })),
        },
      },
    }).then(done, (e: unknown) => {
      setBusy(false);
      setError(e instanceof Error ? e.message : String(e));
    });
  };
  return (
    <div style={{ display: 'grid', gap: 12, width: 470 }}>
      <p>{withParts(wording.everyoneInGetsA, list?.name ?? wording.theList)}</p>
      {now.column && (
        <Small>
          {withParts(
            wording.thePageAddressesAre,
            now.column,
            now.sample && (
              <a href={now.sample} target="_blank" rel="noreferrer">
                {wording.openTheFirstPersons}
              </a>
            ),
          )}
        </Small>
      )}
      <Words
        label={wording.textAboveTheQuestions}
        value={document.words}
        onChange={(words) => set({ words })}
      />
      {document.questions.map((question, at) => (
        <fieldset
          key={question.id}
          style={{
            border: `1px solid ${colour.rule}`,
            margin: 0,
            padding: '10px 12px',
            display: 'grid',
            gap: 8,
          }}
        >
          <legend style={{ fontSize: 12.5, color: colour.inkSoft }}>
            {withParts(wording.question, at + 1)}
          </legend>
          <Words
            label={wording.question2}
            value={question.ask}
            onChange={(words) => setQuestion(at, { ...question, ask: words })}
          />
          <Pick
            label={wording.answer}
            value={question.kind}
            onChange={(kind) => setQuestion(at, { ...question, kind })}
            choices={kinds}
          />
          {question.kind === 'choice' && (
            <label style={{ display: 'grid', gap: 3, fontSize: 12.5 }}>
              {withParts(
                wording.choicesOnePerLine,
                <textarea
                  rows={4}
                  value={question.choices.join('\n')}
                  onChange={(event) =>
                    setQuestion(at, { ...question, choices: event.target.value.split('\n') })
                  }
                  style={{ padding: 6, border: `1px solid ${colour.ruleStrong}`, fontSize: 14 }}
                />,
              )}
            </label>
          )}
          <div style={{ display: 'flex', gap: 14, alignItems: 'center', flexWrap: 'wrap' }}>
            {question.kind !== 'tick' && (
              <Check
                on={question.needed}
                onChange={(needed) => setQuestion(at, { ...question, needed })}
              >
                {wording.required}
              </Check>
            )}
            <label style={{ fontSize: 12.5 }}>
              {withParts(
                wording.askedOf,
                <select
                  value={question.only?.column ?? ''}
                  onChange={(event) =>
                    setQuestion(at, {
                      ...question,
                      only: event.target.value
                        ? { column: event.target.value, is: question.only?.is ?? '' }
                        : null,
                    })
                  }
                >
                  <option value="">everyone</option>
                  {columns.map((c) => (
                    <option key={c.id} value={c.id}>
                      people whose {c.name} is
                    </option>
                  ))}
                </select>,
              )}
            </label>
            <PlainButton onPress={() => setQuestion(at, undefined)}>
              {wording.deleteQuestion}
            </PlainButton>
          </div>
          {question.only && (
            <Words
              label={wording.value}
              value={question.only.is}
              onChange={(is) =>
                setQuestion(at, { ...question, only: { column: question.only!.column, is } })
              }
            />
          )}
        </fieldset>
      ))}
      <div>
        <QuietButton
          isDisabled={document.questions.length >= 20}
          onPress={() =>
            set({
              questions: [
                ...document.questions,
                {
                  id: `q${next}`,
                  kind: 'text',
                  ask: '',
                  choices: [],
                  needed: false,
                  only: null,
                  column: null,
                },
              ],
            })
          }
        >
          {wording.addQuestion}
        </QuietButton>
      </div>
      <Check on={document.again} onChange={(again) => set({ again })}>
        {wording.answersCanBeChanged}
      </Check>
      {error && <ErrorLine role="alert">{error}</ErrorLine>}
      <div style={{ display: 'flex', gap: 8 }}>
        <MainButton
          isDisabled={busy || document.questions.some((q) => q.ask.trim() === '')}
          onPress={() => save(true)}
        >
          {now.document.open ? wording.apply : wording.turnOnSelfCheck}
        </MainButton>
        {now.document.open && (
          <PlainButton onPress={() => save(false)}>{wording.stopSelfCheckIn}</PlainButton>
        )}
      </div>
    </div>
  );
}
