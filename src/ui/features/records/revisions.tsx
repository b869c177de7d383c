'use client';

import { counted } from '../../../core/base/words';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Dialog, Heading } from 'react-aria-components';
import { styled } from 'styled-components';

import { ask } from '../../kit/api';
import { ErrorLine, PlainButton, QuietButton, Small } from '../../kit/controls';
import { when } from '../../kit/dates';
import { useJob } from '../../shell/ledger/context';
import { Card, Veil } from '../../shell/shortcuts';
import { colour } from '../../kit/theme';
import { ChangesTable } from './changes-table';
import { revisions as wording } from './words';
import { withParts } from '../../kit/with-parts';

const Layout = styled(Dialog)`
  outline: none;
  width: min(1020px, calc(100vw - 80px));
  height: min(600px, calc(100vh - 90px));
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  header {
    display: flex;
    justify-content: space-between;
    padding: 16px 20px 12px;
    border-bottom: 1px solid ${colour.ruleStrong};
  }
  .two {
    display: grid;
    grid-template-columns: 340px minmax(0, 1fr);
    min-height: 0;
  }
  .list {
    overflow: auto;
    border-right: 1px solid ${colour.rule};
  }
  .one {
    all: unset;
    box-sizing: border-box;
    display: block;
    width: 100%;
    padding: 9px 20px;
    border-bottom: 1px solid ${colour.rule};
    cursor: pointer;
  }
  .one[aria-pressed='true'] {
    background: ${colour.violetWash};
  }
  .one:focus-visible {
    outline: 2px solid ${colour.violet};
    outline-offset: -2px;
  }
  .one[data-undone] b {
    text-decoration: line-through;
    font-weight: 400;
  }
  .rows {
    overflow: auto;
    padding: 12px 20px;
  }
`;

/** The list's revisions, as a part of its sentence. */
export function RevisionsPart() {
  const { job } = useJob();
  const [open, setOpen] = useState(false);
  const count = job.list.revisions;
  return (
    <>
      <PlainButton
        looks
        onPress={() => setOpen(true)}
        style={{
          padding: 0,
          color: colour.violetDeep,
          fontWeight: 700,
          borderBottom: `1.5px solid ${colour.violet}`,
          borderRadius: 0,
          fontSize: 'inherit',
        }}
      >
        {counted(count, 'revision')}
      </PlainButton>
      <Veil isOpen={open} onOpenChange={setOpen} isDismissable>
        <Card>
          <Layout>{({ close }) => <Revisions close={close} />}</Layout>
        </Card>
      </Veil>
    </>
  );
}

function Revisions({ close }: { close: () => void }) {
  const { job, changeList, problem } = useJob();
  const params = { id: job.list.id };
  const [chosen, setChosen] = useState<number>();
  const { data, error } = useQuery({
    queryKey: ['revisions', job.list.id, job.list.revision],
    queryFn: () => ask('listRevisions', { params }),
  });
  const current = data?.revisions.find((r) => r.number === chosen) ?? data?.revisions[0];
  const rows = useQuery({
    queryKey: ['revision', job.list.id, current?.number, job.list.revision],
    queryFn: () => ask('viewRevision', { params: { ...params, number: current!.number } }),
    enabled: current !== undefined,
  });
  const turn = (direction: 'undo' | 'redo') =>
    void changeList(() =>
      ask('turnRevision', {
        params: { ...params, number: current!.number },
        body: { direction },
      }),
    );
  return (
    <>
      <header>
        <Heading slot="title" level={2}>
          {withParts(wording.revisionsOf, job.list.name)}
        </Heading>
        <PlainButton looks onPress={close}>
          {wording.close}
        </PlainButton>
      </header>
      {error && <ErrorLine>{error.message}</ErrorLine>}
      <div className="two">
        <div className="list">
          {data?.revisions.map((r) => (
            <button
              key={r.number}
              type="button"
              className="one"
              aria-pressed={r.number === current?.number}
              data-undone={r.undone ? '' : undefined}
              onClick={() => setChosen(r.number)}
            >
              <b>{r.note}</b>
              <Small as="span" style={{ display: 'block' }}>
                {when(r.at)} · {r.by}
                {r.undone && wording.undone}
              </Small>
            </button>
          ))}
        </div>
        <div className="rows" tabIndex={0} role="region" aria-label={wording.whatItChanged}>
          {current && (
            <>
              <div style={{ display: 'flex', gap: 12, alignItems: 'center', marginBottom: 10 }}>
                <b style={{ flex: 1 }}>{current.note}</b>
                {current.canUndo && (
                  <QuietButton onPress={() => turn(current.undone ? 'redo' : 'undo')}>
                    {current.undone ? wording.redo : wording.undo}
                  </QuietButton>
                )}
              </div>
              {problem && <ErrorLine role="alert">{problem}</ErrorLine>}
              {current.kind === 'intake' && <Small>{wording.thisIsWhereThe}</Small>}
              {current.kind === 'columns' && <Small>{wording.theColumnsWereChanged}</Small>}
              {rows.data && <ChangesTable rows={rows.data.rows} />}
              {rows.data && rows.data.total > rows.data.rows.length && (
                <Small style={{ marginTop: 8 }}>
                  {withParts(
                    wording.theFirstOfRecords,
                    rows.data.rows.length,
                    rows.data.total.toLocaleString('en'),
                  )}
                </Small>
              )}
            </>
          )}
        </div>
      </div>
    </>
  );
}
