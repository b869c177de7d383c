'use client';

import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import type { LedgerRow, RunView } from '../../core/job/views';
import { placeOnStock, placesOn, sheetsFor, stockOf } from '../../core/piece/stock';
import { keyColumn, nameColumn } from '../../core/records/columns';
import { ask } from '../api';
import { ErrorLine, QuietButton, Small } from '../controls';
import { usePiece } from '../core-client';
import { useJob } from '../ledger/context';
import { Mark } from '../mark';
import { colour, font } from '../theme';
import { PieceSvg } from '../piece/piece-svg';
import { useOptions } from './piece';
import { RunHistory } from './run-history';

export function RunCell({ record }: { record: LedgerRow }) {
  if (record.page === null) return null;
  return (
    <span
      style={{ display: 'flex', gap: 6, alignItems: 'center', height: '100%', paddingLeft: 12, font: `400 13px/1 ${font.code}` }}
      title={`Printed on page ${record.page}, place ${record.place}`}
    >
      <Mark
        name={record.marks.run === 'failed' ? 'failed' : 'ready'}
        label={record.marks.run === 'failed' ? 'did not read back' : 'read back'}
      />
      p {record.page}
    </span>
  );
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  height: 100%;
  .sheets {
    background: ${colour.groundDeep};
    padding: 14px 20px;
    overflow: auto;
    display: grid;
    grid-template-rows: auto 1fr;
    gap: 10px;
    justify-items: center;
  }
  .history {
    border-left: 1px solid ${colour.rule};
    overflow: auto;
    padding: 14px 18px;
  }
  .pager {
    display: flex;
    gap: 10px;
    align-items: center;
    font-size: 13px;
  }
`;

export function RunBand() {
  const { job } = useJob();
  const runs = useQuery({
    queryKey: ['runs', job.id],
    queryFn: () => ask<{ runs: RunView[] }>(`/api/jobs/${job.id}/runs`),
    refetchInterval: ({ state }) => (state.data?.runs.some((r) => r.state === 'waiting' || r.state === 'running') ? 500 : 5000),
  });
  return (
    <Layout>
      <Sheets />
      <div className="history">
        {runs.error ? <ErrorLine>{runs.error.message}</ErrorLine> : <RunHistory runs={runs.data?.runs ?? []} loading={runs.isPending} />}
      </div>
    </Layout>
  );
}

/** The sheets as they will be printed: every ready piece on its place. Pointing at one takes its row in hand. */
function Sheets() {
  const { job, handRow } = useJob();
  const [options] = useOptions();
  const stock = stockOf(job.document.piece);
  const perPage = placesOn(stock);
  const pages = sheetsFor(stock, job.counts.ready * options.copies, options.start);
  const [page, setPage] = useState(0);
  const shown = Math.min(page, Math.max(0, pages - 1));
  const from = Math.max(0, shown * perPage - (options.start - 1));
  const to = Math.min(job.counts.ready * options.copies, (shown + 1) * perPage - (options.start - 1));
  const firstRecord = Math.floor(from / options.copies);
  const count = Math.max(1, Math.ceil(to / options.copies) - firstRecord);
  const { data } = useQuery({
    queryKey: ['rows', job.id, 'sheet', firstRecord, count],
    queryFn: () =>
      ask<{ rows: LedgerRow[] }>(
        `/api/jobs/${job.id}/rows?${new URLSearchParams({ filter: 'ready', offset: String(firstRecord), limit: String(count) }).toString()}`,
      ),
    enabled: pages > 0,
  });
  const [room, setRoom] = useState({ width: 400, height: 460 });
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!box.current) return;
    const observer = new ResizeObserver(([entry]) => setRoom({ width: entry.contentRect.width, height: entry.contentRect.height }));
    observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  // the whole sheet in sight, at true proportion
  const scale = Math.max(0.8, Math.min(room.width / stock.page.width, (room.height - 50) / stock.page.height));
  if (pages === 0)
    return (
      <div className="sheets" ref={box}>
        <Small>No record is ready, so there is no sheet to show.</Small>
      </div>
    );
  return (
    <div className="sheets" ref={box}>
      <div className="pager">
        <QuietButton isDisabled={shown === 0} onPress={() => setPage(shown - 1)}>
          Sheet before
        </QuietButton>
        <span>
          sheet {(shown + 1).toLocaleString('en')} of {pages.toLocaleString('en')}
        </span>
        <QuietButton isDisabled={shown >= pages - 1} onPress={() => setPage(shown + 1)}>
          Next sheet
        </QuietButton>
      </div>
      <div
        style={{
          position: 'relative',
          width: stock.page.width * scale,
          height: stock.page.height * scale,
          background: colour.paper,
          outline: `1px solid ${colour.ruleStrong}`,
        }}
      >
        {Array.from({ length: Math.max(0, to - from) }, (_, i) => {
          const place = placeOnStock(stock, from + i, options.start, options.order);
          const record = data?.rows[Math.floor((from + i) / options.copies) - firstRecord];
          return (
            <SheetPlace
              key={from + i}
              record={record}
              x={place.x * scale}
              y={place.y * scale}
              width={stock.piece.width * scale}
              height={stock.piece.height * scale}
              inHand={record !== undefined && record.id === handRow?.id}
            />
          );
        })}
      </div>
    </div>
  );
}

function SheetPlace({
  record,
  x,
  y,
  width,
  height,
  inHand,
}: {
  record: LedgerRow | undefined;
  x: number;
  y: number;
  width: number;
  height: number;
  inHand: boolean;
}) {
  const { job, jump } = useJob();
  const picture = usePiece(job.document.piece, job.document.stamps, record?.values, { list: job.list.id });
  const column = nameColumn(job.list.columns) ?? keyColumn(job.list.columns) ?? job.list.columns[0];
  const title = record?.values[column.id] ?? '';
  const takeInHand = () => {
    if (record && !inHand) jump({ record: record.id });
  };
  return (
    <button
      type="button"
      title={title}
      aria-label={`Piece of ${title}`}
      onClick={takeInHand}
      onPointerEnter={takeInHand}
      style={{
        position: 'absolute',
        left: x,
        top: y,
        width,
        height,
        padding: 0,
        border: 0,
        background: 'none',
        cursor: 'pointer',
        outline: inHand ? `2px solid ${colour.violet}` : `0.5px solid ${colour.rule}`,
        zIndex: inHand ? 1 : 0,
      }}
    >
      <PieceSvg picture={picture} piece={job.document.piece} width={width} />
    </button>
  );
}
