'use client';
import { plural } from '../../../core/base/words';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { styled } from 'styled-components';
import { ask } from '../../kit/api';
import { ChoicePart, PlainButton, QuietButton } from '../../kit/controls';
import { useMay } from '../../kit/me';
import { colour } from '../../kit/theme';
import { useJob } from './context';
import { isWhole, viewQuery } from './view';
import { tickedBar as wording } from '../words';
import { filled, withParts } from '../../kit/with-parts';

const Bar = styled.div`
  display: flex;
  gap: 10px;
  align-items: center;
  padding: 7px 20px;
  border-top: 1.5px solid ${colour.ink};
  background: ${colour.paper};
  font-size: 13.5px;
  b {
    margin-right: 6px;
  }
`;

/** Actions for the ticked records, in every band. */
export function TickedBar() {
  const { job, ticked, tick, view, total, changeList, openBand, setProblem, kept } = useJob();
  const client = useQueryClient();
  const ids = [...ticked];
  const stamp = job.document.stamps[0]!;
  const records = plural(ids.length, 'record');
  const tickAll = async () => {
    const { ids: all } = await ask('jobRowIds', {
      params: { id: job.id },
      query: viewQuery(view),
    });
    tick(all, true);
  };
  const print = async () => {
    try {
      await kept();
      await ask('quickPrint', {
        params: { id: job.id },
        body: { stamp: stamp.id, records: ids },
      });
      await client.invalidateQueries({ queryKey: ['runs', job.id] });
      openBand('run');
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  const takeOut = async () => {
    const gone = await changeList(() =>
      ask('removeRecords', { params: { id: job.list.id }, body: { ids } }),
    );
    if (gone) tick(ids, false);
  };
  return (
    <Bar role="region" aria-label={wording.theTickedRecords}>
      <b>{withParts(wording.ticked, ids.length.toLocaleString('en'), records)}</b>
      {stamp && (
        <QuietButton onPress={() => void print()}>{wording.printCodesWithTitles}</QuietButton>
      )}
      <QuietButton onPress={() => openBand('run')}>{wording.chooseTheseForA}</QuietButton>
      <ByOrder list={job.list.id} records={ids} onProblem={setProblem} />
      <QuietButton onPress={() => void takeOut()}>{wording.removeFromTheList}</QuietButton>
      <span style={{ flex: 1 }} />
      {ids.length < total && (
        <PlainButton looks onPress={() => void tickAll()}>
          {withParts(
            wording.tickAll,
            total.toLocaleString('en'),
            isWhole(view) ? 'records' : 'shown',
          )}
        </PlainButton>
      )}
      <PlainButton looks onPress={() => tick(ids, false)}>
        {wording.untick}
      </PlainButton>
    </Bar>
  );
}

/** Standing orders of this list that are started by hand, if there are any. */
function ByOrder({
  list,
  records,
  onProblem,
}: {
  list: number;
  records: readonly number[];
  onProblem: (words: string) => void;
}) {
  const may = useMay();
  const [told, setTold] = useState('');
  const { data } = useQuery({
    queryKey: ['orders'],
    queryFn: () => ask('listOrders'),
    enabled: may,
    staleTime: 10_000,
  });
  const orders = data?.orders.filter((order) => order.byHand === list) ?? [];
  if (orders.length === 0) return null;
  return (
    <>
      <ChoicePart
        acts
        label={wording.startAStandingOrderFor}
        value={undefined}
        choices={orders.map((order) => ({
          id: String(order.id),
          name: order.name,
          about: order.says,
        }))}
        onChange={(id) =>
          void ask('fireByHand', {
            params: { id: Number(id) },
            body: { records: [...records] },
          }).then(
            ({ started }) =>
              setTold(
                filled(wording.startedFor, started.toLocaleString('en'), plural(started, 'record')),
              ),
            (error: unknown) => onProblem(error instanceof Error ? error.message : String(error)),
          )
        }
      >
        {wording.startAStandingOrder}
      </ChoicePart>
      <span role="status">{told}</span>
    </>
  );
}
