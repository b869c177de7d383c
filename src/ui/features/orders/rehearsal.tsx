'use client';

import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { OrderView, Rehearsal as Rehearsed } from '../../../contract';
import { keyColumn, titleColumn } from '../../../core/records/columns';
import { ask } from '../../kit/api';
import { useChoices } from './use-order';
import { ErrorLine, Part, Small, unseen, Words, MainButton, QuietButton } from '../../kit/controls';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { rehearsal as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Lines = styled.table`
  width: 100%;
  border-collapse: collapse;
  border-top: 1.5px solid ${colour.ink};
  th {
    text-align: left;
    font-weight: 400;
    font-size: 12.5px;
    line-height: 1.2;
    color: ${colour.inkSoft};
    padding: 7px 10px 7px 0;
    border-bottom: 1px solid ${colour.ruleStrong};
    vertical-align: bottom;
  }
  td {
    height: 36px;
    padding: 0 10px 0 0;
    border-bottom: 1px solid ${colour.rule};
  }
  .when {
    font-size: 13px;
    color: ${colour.inkSoft};
    white-space: nowrap;
    font-variant-numeric: tabular-nums;
  }
  .what {
    max-width: 380px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  tbody tr {
    cursor: pointer;
  }
  tbody tr[data-shown='true'] {
    background: ${colour.violetWash};
  }
  button.row {
    all: unset;
    cursor: pointer;
    max-width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  button.row:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  .unseen {
    ${unseen}
  }
`;

const marks: Record<Rehearsed['lines'][number]['cells'][number]['state'], MarkName | undefined> = {
  on: 'ready',
  stops: 'out',
  wrong: 'failed',
  own: 'none',
  none: undefined,
};

/**
 * What an order would do with real events: a row for each event, a column for each part of the
 * sentence.
 * @param wait the sentence is being changed, and is rehearsed once that is saved
 */
export function Rehearsal({ view, wait }: { view: OrderView; wait: boolean }) {
  const [one, setOne] = useState<{ record?: number; file?: string; title: string }>();
  const [shown, setShown] = useState<number>();
  const { when: starts } = view.document;
  const told = useQuery({
    queryKey: ['rehearsal', view.id, view.document, one],
    queryFn: () =>
      ask('rehearseOrder', {
        params: { id: view.id },
        body: {
          document: view.document,
          ...(one?.record === undefined ? {} : { record: one.record }),
          ...(one?.file === undefined ? {} : { file: one.file }),
        },
      }),
    placeholderData: keepPreviousData,
    enabled: !wait,
  });
  const lines = told.data?.lines ?? [];
  const at =
    shown ??
    Math.max(
      0,
      lines.findIndex((l) => l.why !== ''),
    );
  const line = lines[at];
  const stopped = line?.cells.findIndex((c) => c.state !== 'on') ?? -1;
  const part = told.data?.parts[stopped];
  const hasRecord = 'list' in starts && starts.list !== null && starts.kind !== 'document';
  return (
    <section aria-label={wording.rehearsal}>
      <p style={{ marginBottom: 10, display: 'flex', gap: 10, alignItems: 'baseline' }}>
        <Small as="span" style={{ fontSize: 13.5 }}>
          {withParts(
            wording.whatItWouldDo,
            hasRecord || starts.kind === 'document' ? (
              <Part
                label={wording.rehearseWith}
                looks
                editor={(close) => (
                  <WithWhat
                    view={view}
                    onUse={(next) => (setOne(next), setShown(undefined), close())}
                  />
                )}
              >
                {one
                  ? one.title
                  : told.data?.asIf
                    ? filled(wording.itsLastRecordsAs, lines.length)
                    : lines.length === 0
                      ? wording.whatHappenedLast
                      : lines.length === 1
                        ? wording.theLastThingThat
                        : filled(wording.theLastThingsThat, lines.length)}
              </Part>
            ) : starts.kind === 'schedule' ? (
              wording.itsNextTime
            ) : (
              wording.theLastCall
            ),
          )}
        </Small>
        {told.isFetching && (
          <Small as="span" role="status">
            {wording.rehearsing}
          </Small>
        )}
      </p>
      {told.error && <ErrorLine>{told.error.message}</ErrorLine>}
      {told.data && lines.length === 0 && (
        <p style={{ borderTop: `1.5px solid ${colour.ink}`, paddingTop: 12 }}>
          {nothingWords[starts.kind]}
        </p>
      )}
      {told.data && lines.length > 0 && (
        <>
          <Lines>
            <thead>
              <tr>
                <th style={{ width: 110 }}>{wording.when}</th>
                <th>{wording.whatHappened}</th>
                {told.data.parts.map((p, i) => (
                  <th key={i} style={{ width: 96 }}>
                    {p.short}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {lines.map((l, i) => (
                <tr key={i} data-shown={i === at} onClick={() => setShown(i)}>
                  <td className="when" suppressHydrationWarning>
                    {when(l.at)}
                  </td>
                  <td className="what">
                    <button
                      className="row"
                      type="button"
                      aria-pressed={i === at}
                      onClick={() => setShown(i)}
                    >
                      {l.title}
                    </button>
                  </td>
                  {l.cells.map((cell, k) => {
                    const mark = marks[cell.state];
                    return (
                      <td key={k} title={cell.words}>
                        {mark && <Mark name={mark} label={cell.words} />}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </Lines>
          {line && (
            <div style={{ marginTop: 12, display: 'grid', gap: 4 }} aria-live="polite">
              {line.why === '' ? (
                <p>
                  <b>{line.title}</b>: {sentenceOf(line.cells.slice(1).map((c) => c.words))}.{' '}
                  {line.look && (
                    <Link
                      href={`/jobs/${line.look.job}?band=piece&q=${encodeURIComponent(line.look.key)}`}
                    >
                      {wording.previewWhatItWould}
                    </Link>
                  )}
                </p>
              ) : line.cells[0]?.state === 'own' ? (
                <p>
                  <b>{line.title}</b>: {line.why}.
                </p>
              ) : (
                <p>
                  {line.title}:{' '}
                  {line.cells[stopped]?.state === 'wrong' ? wording.wouldFailAt : wording.stopsAt}{' '}
                  <b>{part?.short}</b>: {line.why.replace(/\.$/, '')}.
                </p>
              )}
            </div>
          )}
        </>
      )}
      {told.data?.trouble && (
        <Small style={{ marginTop: 10 }}>
          {withParts(wording.beforeYouCanTurn, told.data.trouble)}
        </Small>
      )}
    </section>
  );
}

const sentenceOf = (words: readonly string[]): string =>
  words.filter((w) => w !== 'holds').join(wording.then) || wording.nothingWouldBeDone;

const nothingWords: Record<OrderView['document']['when']['kind'], string> = {
  record: wording.nothingLikeThisHas,
  reaches: wording.noRecordHasThis,
  document: wording.thereIsNoFile,
  call: wording.noProgramHasCalled,
  scan: wording.nothingFromThisList,
  schedule: wording.thisScheduleNeverHappens,
  hand: wording.itsListHasNo,
};

function WithWhat({
  view,
  onUse,
}: {
  view: OrderView;
  onUse: (one: { record?: number; file?: string; title: string } | undefined) => void;
}) {
  const { when: starts } = view.document;
  const [words, setWords] = useState('');
  const list = 'list' in starts ? starts.list : null;
  const choices = useChoices();
  const job = choices.data?.jobs.find((j) => j.list === list)?.id;
  const columns = choices.data?.lists.find((l) => l.id === list)?.columns ?? [];
  const key = keyColumn(columns)?.id ?? '';
  const title = titleColumn(columns)?.id ?? '';
  const found = useQuery({
    queryKey: ['rehearse-with', job, words],
    enabled: job !== undefined && words.trim() !== '' && starts.kind !== 'document',
    queryFn: () => ask('jobRows', { params: { id: job! }, query: { limit: 8, q: words.trim() } }),
  });
  return (
    <div style={{ display: 'grid', gap: 10, width: 360 }}>
      <QuietButton looks onPress={() => onUse(undefined)}>
        {wording.withTheLatestEvents}
      </QuietButton>
      {starts.kind === 'document' ? (
        <>
          <Words label={wording.orOneFileBy} value={words} onChange={setWords} />
          <div>
            <MainButton
              isDisabled={words.trim() === ''}
              onPress={() => onUse({ file: words.trim(), title: words.trim() })}
            >
              {wording.rehearseWithIt}
            </MainButton>
          </div>
        </>
      ) : (
        <>
          <Words label={wording.orFindOneRecord} value={words} onChange={setWords} autoFocus />
          {found.data?.rows.map((row) => {
            const name = row.values[title] || wording.aRecord;
            return (
              <QuietButton
                looks
                key={row.id}
                onPress={() => onUse({ record: row.id, title: name })}
              >
                {name} {key !== title && row.values[key]}
              </QuietButton>
            );
          })}
        </>
      )}
    </div>
  );
}
