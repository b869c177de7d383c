'use client';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Dialog, FileTrigger, Heading } from 'react-aria-components';
import { styled } from 'styled-components';
import { readsItself, sourceOf } from '../../../core/job/sources';
import { counted } from '../../../core/base/words';
import type { ChangedRow, RereadTake, RereadTold, SaidSame } from '../../../contract';
import { ask } from '../../kit/api';
import { sendFile } from '../../kit/send';
import {
  ErrorLine,
  MainButton,
  Part,
  PlainButton,
  QuietButton,
  Sentence,
  Small,
  Warning,
} from '../../kit/controls';
import { when } from '../../kit/dates';
import { useJob } from '../../shell/ledger/context';
import { Mark } from '../../kit/mark';
import { Pick } from '../../kit/pick';
import { Card, Veil } from '../../shell/shortcuts';
import { colour } from '../../kit/theme';
import { ChangesTable } from './changes-table';
import { reread as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

interface Intake {
  id: number;
  file_name: string;
  state: 'waiting' | 'read' | 'taking' | 'taken' | 'failed';
  error: string | null;
  told: RereadTold | null;
  same: SaidSame | null;
}

const count = (n: number, word: string): string => `${n.toLocaleString('en')} ${word}`;

/** The source of the records; opens the ways to update from it. */
export function SourcePart() {
  const { job } = useJob();
  const { origin, source } = job.list;
  if (origin === null || sourceOf(origin).gone) return <>{source}</>;
  return (
    <Part label={wording.updateFromTheSource} editor={(close) => <ReadAgain close={close} />}>
      {source}
      {sourceOf(origin).where}
    </Part>
  );
}

function ReadAgain({ close }: { close: () => void }) {
  const { job } = useJob();
  const client = useQueryClient();
  const { origin, source, id } = job.list;
  const takes = origin === null ? undefined : sourceOf(origin).takes?.(origin);
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const start = async (work: () => Promise<unknown>) => {
    setBusy(true);
    try {
      await work();
      await client.invalidateQueries({ queryKey: ['job', job.id] });
      close();
    } catch (e) {
      setError(e instanceof Error ? e.message : String(e));
    }
    setBusy(false);
  };
  return (
    <div style={{ display: 'grid', gap: 10, maxWidth: 360 }}>
      <Small>{withParts(wording.sourceAsOfYou, when(job.list.updated))}</Small>
      {readsItself(origin) ? (
        <MainButton
          isDisabled={busy}
          onPress={() => void start(() => ask('readListAgain', { params: { id } }))}
        >
          {withParts(wording.updateFrom, source)}
        </MainButton>
      ) : (
        <FileTrigger
          onSelect={(files) =>
            files?.[0] && void start(() => sendFile(files[0]!, files[0]!.name, { list: id }))
          }
        >
          <MainButton isDisabled={busy}>{withParts(wording.chooseAgainOrA, source)}</MainButton>
        </FileTrigger>
      )}
      {takes !== undefined && (
        <Small>
          {withParts(wording.itIsAlsoUpdated, takes ? wording.andAppliedAutomaticallyIf : '')}
        </Small>
      )}
      {error && <ErrorLine>{error}</ErrorLine>}
    </div>
  );
}

/** A re-read that waits to be looked at. */
export function RereadLine() {
  const { job } = useJob();
  const [open, setOpen] = useState(false);
  const { data } = useIntake();
  if (!data || data.state === 'taken') return null;
  const { told } = data;
  return (
    <Sentence $minor style={{ paddingBottom: 6 }}>
      {data.state === 'waiting' && withParts(wording.reading, data.file_name)}
      {data.state === 'failed' && (
        <span style={{ color: colour.failed }}>
          <Mark name="failed" /> {data.error} <SetAside intake={data} />
        </span>
      )}
      {(data.state === 'read' || data.state === 'taking') &&
        told &&
        withParts(
          wording.hasChanges,
          <Mark name="look" />,
          data.file_name,
          count(told.added, 'added'),
          count(told.changed, 'changed'),
          count(told.gone, 'gone'),
          <PlainButton
            onPress={() => setOpen(true)}
            style={{
              padding: 0,
              fontWeight: 700,
              color: colour.violetDeep,
              textDecoration: 'underline',
            }}
          >
            {wording.reviewChanges}
          </PlainButton>,
        )}
      <Veil isOpen={open} onOpenChange={setOpen} isDismissable>
        <Card>
          <Account>
            {({ close }) =>
              told ? (
                <Reread intake={data} told={told} close={close} key={`${job.list.id}-${data.id}`} />
              ) : null
            }
          </Account>
        </Card>
      </Veil>
    </Sentence>
  );
}

function useIntake() {
  const { job } = useJob();
  const client = useQueryClient();
  const id = job.list.reread;
  return useQuery({
    queryKey: ['intake', id],
    queryFn: async () => {
      const intake = await ask('viewIntake', { params: { id } });
      if (intake.state === 'taken') {
        await client.invalidateQueries({ queryKey: ['job', job.id] });
        await client.invalidateQueries({ queryKey: ['rows', job.id] });
      }
      return intake;
    },
    enabled: id !== null,
    refetchInterval: ({ state }) =>
      state.data && (state.data.state === 'waiting' || state.data.state === 'taking') ? 400 : 5000,
  });
}

function SetAside({ intake, close }: { intake: Intake; close?: () => void }) {
  const { job } = useJob();
  const client = useQueryClient();
  return (
    <PlainButton
      onPress={() => {
        close?.();
        void ask('dropIntake', { params: { id: intake.id } }).then(() =>
          client.invalidateQueries({ queryKey: ['job', job.id] }),
        );
      }}
    >
      {wording.discard}
    </PlainButton>
  );
}

const Account = styled(Dialog)`
  outline: none;
  width: min(900px, calc(100vw - 80px));
  height: min(620px, calc(100vh - 90px));
  padding: 18px 22px;
  display: grid;
  grid-template-rows: auto auto minmax(0, 1fr) auto;
  gap: 10px;
  .rows {
    overflow: auto;
    border-top: 1px solid ${colour.ruleStrong};
    border-bottom: 1px solid ${colour.ruleStrong};
  }
`;

/**
 * What may be the same under another name or in another form: after a choice here it is compared
 * again.
 */
function Questions({ intake, told }: { intake: Intake; told: RereadTold }) {
  const client = useQueryClient();
  const [error, setError] = useState<string>();
  const say = (same: SaidSame) =>
    ask('sayIntakeSame', { params: { id: intake.id }, body: same }).then(
      () => client.invalidateQueries({ queryKey: ['intake', intake.id] }),
      (e: unknown) => setError(e instanceof Error ? e.message : String(e)),
    );
  const known = intake.same ?? { headings: {}, keys: false };
  if (!told.asks?.length && !told.blocked) return null;
  return (
    <div style={{ display: 'grid', gap: 6 }}>
      {told.blocked && (
        <Warning>
          <Mark name="look" /> {told.blocked}
        </Warning>
      )}
      {told.asks?.map((question) =>
        question.kind === 'heading' ? (
          <p key={question.column} style={{ display: 'flex', gap: 10, alignItems: 'baseline' }}>
            <span>
              {withParts(
                wording.holdsWhatHeldIn,
                question.heading,
                question.name,
                counted(question.records, 'record'),
              )}
            </span>
            <QuietButton
              onPress={() =>
                void say({
                  ...known,
                  headings: { ...known.headings, [question.heading]: question.column },
                })
              }
            >
              {withParts(wording.isTheSameAs, question.heading, question.name)}
            </QuietButton>
          </p>
        ) : (
          <p key="keys" style={{ display: 'flex', gap: 10, alignItems: 'baseline' }}>
            <span>
              {withParts(
                wording.theSameButFor,
                counted(question.records, wording.keyIs, wording.keysAre),
                question.here,
                question.there,
              )}
            </span>
            <QuietButton onPress={() => void say({ ...known, keys: true })}>
              {wording.theyAreTheSame}
            </QuietButton>
          </p>
        ),
      )}
      {error && <ErrorLine>{error}</ErrorLine>}
    </div>
  );
}

/** The result of an update, row by row and cell by cell, before it is applied. */
function Reread({ intake, told, close }: { intake: Intake; told: RereadTold; close: () => void }) {
  const { changeList } = useJob();
  const [change, setChange] = useState<ChangedRow['change'] | 'all'>('all');
  const [clashes, setClashes] = useState<RereadTake['clashes']>('here');
  const [gone, setGone] = useState<RereadTake['gone']>('out');
  const { data, error } = useQuery({
    queryKey: ['intake-rows', intake.id, change, intake.same],
    queryFn: () =>
      ask('intakeRows', {
        params: { id: intake.id },
        query: { change: change === 'all' ? undefined : change },
      }),
  });
  const take = async () => {
    await changeList(async () => {
      await ask('takeIntake', { params: { id: intake.id }, body: { clashes, gone } });
      for (let tries = 0; tries < 600; tries++) {
        const now = await ask('viewIntake', { params: { id: intake.id } });
        if (now.state === 'failed') throw new Error(now.error ?? wording.theChangesCouldNot);
        if (now.state === 'taken') return;
        await new Promise((resolve) => setTimeout(resolve, 250));
      }
    });
    close();
  };
  const kinds = [
    { id: 'all' as const, name: 'everything' },
    ...(['added', 'changed', 'gone'] as const).map((id) => ({ id, name: count(told[id], id) })),
  ];
  return (
    <>
      <header style={{ display: 'flex', justifyContent: 'space-between' }}>
        <Heading slot="title" level={2}>
          {withParts(wording.changes, intake.file_name)}
        </Heading>
        <PlainButton onPress={close}>{wording.close}</PlainButton>
      </header>
      <div style={{ display: 'grid', gap: 8 }}>
        <Pick label={wording.shownHere} choices={kinds} value={change} onChange={setChange} />
        <Questions intake={intake} told={told} />
        {told.newColumns.length > 0 && (
          <Small>{withParts(wording.newColumns, told.newColumns.join(', '))}</Small>
        )}
        {told.missingColumns.length > 0 && (
          <Warning>{withParts(wording.noLongerInThe, told.missingColumns.join(', '))}</Warning>
        )}
        {told.notes.map((note) => (
          <Warning key={note}>{note}</Warning>
        ))}
        <div style={{ display: 'flex', gap: 28 }}>
          {told.clashes > 0 && (
            <Pick
              label={filled(
                wording.changedHereByHand,
                counted(told.clashes, wording.cellWas, wording.cellsWere),
              )}
              choices={[
                { id: 'here', name: wording.keepYourValue },
                { id: 'there', name: wording.useTheSourcesValue },
              ]}
              value={clashes}
              onChange={setClashes}
            />
          )}
          {told.gone > 0 && (
            <Pick
              label={wording.recordsThatAreNo}
              choices={[
                { id: 'out', name: wording.deleteThemHereToo },
                { id: 'stay', name: wording.keepThemHere },
              ]}
              value={gone}
              onChange={setGone}
            />
          )}
        </div>
      </div>
      <div className="rows" tabIndex={0} role="region" aria-label={wording.result}>
        {error && <ErrorLine>{error.message}</ErrorLine>}
        {data && <ChangesTable rows={data.rows} />}
        {data?.rows.length === 100 && (
          <Small style={{ padding: 8 }}>{wording.theFirst100Are}</Small>
        )}
      </div>
      <footer style={{ display: 'flex', gap: 12, alignItems: 'center' }}>
        <MainButton isDisabled={Boolean(told.blocked)} onPress={() => void take()}>
          {wording.applyChanges}
        </MainButton>
        <SetAside intake={intake} close={close} />
        <span style={{ flex: 1 }} />
        <Small>{withParts(wording.youCanUndoThis, count(told.unchanged, 'unchanged'))}</Small>
        <QuietButton onPress={close}>{wording.later}</QuietButton>
      </footer>
    </>
  );
}
