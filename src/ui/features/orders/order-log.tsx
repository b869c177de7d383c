'use client';

import { useInfiniteQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from '../../kit/link';
import { useState } from 'react';
import { styled } from 'styled-components';
import type { Firing } from '../../../contract';
import { counted } from '../../../core/base/words';
import { ask } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { Mark, type MarkName } from '../../kit/mark';
import { colour } from '../../kit/theme';
import { orderLog as wording } from './words';
import { filled } from '../../kit/with-parts';

const marks: Record<Firing['state'], MarkName> = {
  waiting: 'none',
  asking: 'look',
  done: 'ready',
  stopped: 'out',
  failed: 'failed',
  declined: 'out',
};
const stateWords: Record<Firing['state'], string> = {
  waiting: wording.inProgress,
  asking: wording.waitingForApproval,
  done: 'done',
  stopped: 'stopped',
  failed: 'failed',
  declined: wording.notSent,
};

const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1.5px solid ${colour.ink};
  > li {
    border-bottom: 1px solid ${colour.rule};
    padding: 7px 0;
    display: grid;
    grid-template-columns: 110px 14px minmax(0, 1fr) auto;
    gap: 4px 10px;
    align-items: baseline;
  }
  time {
    font-size: 13px;
    color: ${colour.inkSoft};
    font-variant-numeric: tabular-nums;
  }
  .steps {
    grid-column: 3 / 5;
    list-style: none;
    margin: 0;
    padding: 0;
    font-size: 13px;
    color: ${colour.inkSoft};
    li {
      display: flex;
      gap: 8px;
      padding: 2px 0;
      align-items: baseline;
      overflow-wrap: anywhere;
    }
    .ms {
      margin-left: auto;
      white-space: nowrap;
      font-variant-numeric: tabular-nums;
    }
  }
`;

/** What an order did, or all of them in the last day, step by step, the latest first. */
export function OrderLog({ order }: { order: number | undefined }) {
  const client = useQueryClient();
  const [state, setState] = useState<Firing['state']>();
  const [problem, setProblem] = useState<string>();
  const log = useInfiniteQuery({
    queryKey: ['order-log', order, state],
    queryFn: ({ pageParam }) =>
      ask('listFirings', {
        query: {
          ...(order === undefined ? {} : { order }),
          ...(state ? { state } : {}),
          ...(pageParam === undefined ? {} : { before: pageParam }),
        },
      }),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.firings.at(-1)?.id : undefined),
    refetchInterval: 3000,
  });
  const doing = (work: Promise<unknown>) => {
    setProblem(undefined);
    work
      .catch((error: unknown) => setProblem(error instanceof Error ? error.message : String(error)))
      .finally(() => {
        void client.invalidateQueries({ queryKey: ['order-log'] });
        void client.invalidateQueries({ queryKey: ['orders'] });
      });
  };
  const firings = log.data?.pages.flatMap((p) => p.firings) ?? [];
  const failed = firings.filter((f) => f.state === 'failed').length;
  return (
    <section aria-label={wording.whatItDid}>
      <div
        style={{
          display: 'flex',
          gap: 6,
          alignItems: 'center',
          marginBottom: 10,
          flexWrap: 'wrap',
        }}
      >
        {([undefined, 'done', 'stopped', 'failed', 'asking'] as const).map((one) => (
          <QuietButton
            key={one ?? 'all'}
            looks
            aria-pressed={state === one}
            onPress={() => setState(one)}
            style={{ padding: '3px 9px' }}
          >
            {one === undefined ? 'all' : stateWords[one]}
          </QuietButton>
        ))}
        {order !== undefined && failed > 0 && (
          <PlainButton
            onPress={() =>
              doing(ask('fireFailedAgain', { params: { id: order }, body: { from: 'step' } }))
            }
          >
            {wording.retryAllThatFailed}
          </PlainButton>
        )}
      </div>
      {problem && <ErrorLine>{problem}</ErrorLine>}
      {log.error && <ErrorLine>{log.error.message}</ErrorLine>}
      {log.data && firings.length === 0 && (
        <p style={{ borderTop: `1.5px solid ${colour.ink}`, paddingTop: 12 }}>
          {state
            ? wording.nothingHere
            : order === undefined
              ? wording.noStandingOrderStarted
              : wording.notStartedYet}
        </p>
      )}
      {firings.length > 0 && (
        <List>
          {firings.map((f) => (
            <Line key={f.id} firing={f} names={order === undefined} doing={doing} />
          ))}
        </List>
      )}
      {log.hasNextPage && (
        <QuietButton looks onPress={() => void log.fetchNextPage()} style={{ marginTop: 10 }}>
          {wording.showEarlierOnes}
        </QuietButton>
      )}
    </section>
  );
}

function Line({
  firing: f,
  names,
  doing,
}: {
  firing: Firing;
  names: boolean;
  doing: (work: Promise<unknown>) => void;
}) {
  const answer = (yes: boolean) =>
    doing(ask('answerFiring', { params: { id: f.id }, body: { yes } }));
  const again = (from: 'step' | 'start') =>
    doing(ask('fireAgain', { params: { id: f.id }, body: { from } }));
  return (
    <li>
      <time dateTime={f.at} suppressHydrationWarning>
        {when(f.at)}
      </time>
      <Mark name={marks[f.state]} label={stateWords[f.state]} />
      <span>
        {names && (
          <>
            <Link href={`/orders/${f.order}`}>{f.name}</Link>:{' '}
          </>
        )}
        {f.title}{' '}
        <Small as="span">
          {f.state === 'done'
            ? ''
            : `${stateWords[f.state]}${f.why && f.state === 'stopped' ? `: ${f.why}` : ''}`}
          {filled(wording.version, f.version)}
        </Small>
      </span>
      <span style={{ display: 'flex', gap: 6 }}>
        {f.state === 'asking' && (
          <>
            <QuietButton onPress={() => answer(true)}>{wording.approveAndSend}</QuietButton>
            <PlainButton onPress={() => answer(false)}>{wording.doNotSend}</PlainButton>
          </>
        )}
        {f.state === 'failed' && (
          <>
            <QuietButton onPress={() => again('step')}>{wording.continueFromThere}</QuietButton>
            <PlainButton onPress={() => again('start')}>{wording.startOver}</PlainButton>
          </>
        )}
      </span>
      {(f.steps.length > 0 || (f.state === 'failed' && f.why)) && (
        <ol className="steps">
          {f.steps.map((s) => (
            <li key={s.seq}>
              <Mark
                name={s.state === 'did' ? 'ready' : s.state === 'failed' ? 'failed' : 'none'}
                label={s.state === 'did' ? 'done' : s.state === 'failed' ? 'failed' : 'waits'}
                size={8}
              />
              <span>
                {s.words}
                {s.tries > 1 ? `, ${counted(s.tries, 'try', 'tries')}` : ''}
                {s.run !== null && s.job !== null && (
                  <>
                    {' '}
                    <Link href={`/jobs/${s.job}?band=run`}>{wording.open}</Link>
                  </>
                )}
              </span>
              <span className="ms">
                {s.ms >= 1000 ? `${(s.ms / 1000).toFixed(1)} s` : filled(wording.ms, s.ms)}
              </span>
            </li>
          ))}
        </ol>
      )}
    </li>
  );
}
