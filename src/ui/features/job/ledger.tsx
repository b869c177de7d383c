'use client';

import { groundOf } from '../../../core/piece/model';
import type { GroundKind } from '../../../core/piece/ground';
import type { LedgerRow } from '../../../contract';
import { counted } from '../../../core/base/words';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useRef, type ComponentType, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { PieceSentence } from '../piece/piece';
import { PieceBand } from '../piece/piece-band';
import { PieceCell } from '../piece/piece-cell';
import { DocumentBand } from '../documents/document-band';
import { DocumentSentence } from '../documents/document-sentence';
import { PdfsBand, PdfsSentence } from '../documents/pdfs';
import { RunBand } from '../run/band';
import { RunSentence } from '../run/sentence';
import { StampsSentence } from '../stamps/stamps';
import { RunCell } from '../run/run-cell';
import { DocumentCell } from '../documents/document-cell';
import { RecordsSentence, RecordsTools } from '../records/records';
import { ColumnsBeyond, RecordsCell, RecordsHeads } from '../records/records-table';
import { StampsCell, stampsRowHeight } from '../stamps/stamps-rows';
import { VisuallyHidden } from '../../kit/controls';
import { colour, font, row as rowHeight, spineWidth } from '../../kit/theme';
import { bandNames, bands, useHand, useJob, type Band } from '../../shell/ledger/context';
import { SpineCell, SpineHead } from '../../shell/ledger/spine';
import { ledger as wording } from './words';
import { filled } from '../../kit/with-parts';

const folded: Record<Band, number> = { records: 98, stamps: 78, piece: 92, run: 80 };

/** Grid columns of the ledger: the spine, then four bands of which one is open. */
const columnsFor = (open: Band): string =>
  `${spineWidth}px ${bands.map((band) => (band === open ? 'minmax(0, 1fr)' : `${folded[band]}px`)).join(' ')}`;

/**
 * The sentence of the open band, as wide as the ledger; one line of it while the rows are what
 * matters.
 */
const Saying = styled.div`
  position: relative;
  background: ${colour.paper};
  border-bottom: 1px solid ${colour.rule};
  padding: 10px 20px 9px;
  &[data-folded] .whole {
    max-height: 30px;
    overflow: hidden;
    padding-right: 190px;
  }
  /* its last line ends before the button that folds it */
  .whole > p:last-child::after {
    content: '';
    display: inline-block;
    width: 110px;
  }
  .fold {
    all: unset;
    position: absolute;
    right: 16px;
    bottom: 7px;
    padding: 3px 6px;
    font-size: 12.5px;
    line-height: 18px;
    color: ${colour.inkSoft};
    background: ${colour.paper};
    cursor: pointer;
    border-radius: 2px;
  }
  .fold:hover {
    color: ${colour.ink};
  }
  .fold:focus-visible {
    outline: 2px solid ${colour.violet};
  }
`;
const Frame = styled.div`
  display: grid;
  grid-template-rows: auto auto auto minmax(0, 1fr);
  min-height: 0;
  position: relative;
`;
const Line = styled.div`
  display: grid;
  scrollbar-gutter: stable;
  overflow: hidden;
  border-bottom: 1px solid ${colour.ruleStrong};
  > * {
    border-right: 1px solid ${colour.rule};
    min-width: 0;
  }
  > :last-child {
    border-right: 0;
  }
`;
const BandHead = styled.button`
  all: unset;
  box-sizing: border-box;
  padding: 7px 10px 6px 12px;
  min-height: 52px;
  cursor: pointer;
  overflow: hidden;
  &:focus-visible {
    outline: 2px solid ${colour.violet};
    outline-offset: -2px;
  }
  &[aria-expanded='true'] {
    background: ${colour.paper};
    cursor: default;
  }
  b {
    font: 700 16px/1.25 ${font.title};
  }
  &[aria-expanded='false'] {
    padding-right: 4px;
    padding-left: 10px;
  }
  &[aria-expanded='false'] b {
    font-size: 14px;
    line-height: 20px;
  }
  kbd {
    font: 400 11px/1 ${font.code};
    color: ${colour.inkSoft};
    margin-left: 5px;
  }
  span {
    display: block;
    font-size: 12.5px;
    color: ${colour.inkSoft};
    white-space: nowrap;
    margin-top: 1px;
    overflow: hidden;
    text-overflow: ellipsis;
  }
`;
const Scroller = styled.div`
  overflow-y: scroll;
  scrollbar-gutter: stable;
  min-height: 0;
  outline: none;
  position: relative;
  /* the selected row shows which record the keys change */
  &:focus-visible [role='row'][aria-selected='true'] {
    box-shadow:
      inset 4px 0 0 ${colour.violet},
      inset 0 0 0 1.5px ${colour.violet};
  }
`;
const Row = styled.div`
  position: absolute;
  left: 0;
  right: 0;
  display: grid;
  border-bottom: 1px solid ${colour.rule};
  > * {
    border-right: 1px solid ${colour.rule};
    min-width: 0;
    overflow: hidden;
  }
  > :last-child {
    border-right: 0;
  }
  &[aria-selected='true'] {
    background: ${colour.violetWash};
  }
  [data-open] {
    background: ${colour.paper};
  }
  &[aria-selected='true'] [data-open] {
    background: ${colour.paper};
  }
`;
const Overlay = styled.div`
  display: grid;
  grid-row: 4;
  grid-column: 1;
  pointer-events: none;
  position: relative;
  z-index: 2;
  scrollbar-gutter: stable;
  overflow: hidden;
  > div {
    pointer-events: auto;
    min-height: 0;
    overflow: auto;
    background: ${colour.paper};
    border-right: 1px solid ${colour.ruleStrong};
  }
`;
const Empty = styled.div`
  padding: 40px 20px;
  text-align: center;
  color: ${colour.inkSoft};
`;

/** The Piece band for each ground. */
interface OnGround {
  Sentence: ComponentType;
  Band: ComponentType;
  /** Of a record, while another band is open. */
  Cell: ComponentType<{ record: LedgerRow }>;
}
const pieceBands: Record<GroundKind, OnGround> = {
  stock: { Sentence: PieceSentence, Band: PieceBand, Cell: PieceCell },
  document: { Sentence: DocumentSentence, Band: DocumentBand, Cell: DocumentCell },
  html: { Sentence: DocumentSentence, Band: DocumentBand, Cell: DocumentCell },
  pdfs: { Sentence: PdfsSentence, Band: PdfsBand, Cell: DocumentCell },
};

export function Ledger({
  see,
  loading,
}: {
  see: (from: number, to: number, hand: number) => void;
  loading: boolean;
}) {
  const state = useJob();
  const { job, band, total, rowAt, setHand } = state;
  const { hand } = useHand();
  const { Band: OpenPiece, Cell: PieceOf } = pieceBands[groundOf(job.document.piece)];
  const scroller = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: (index) => (band === 'stamps' && index === hand ? stampsRowHeight : rowHeight),
    overscan: 8,
    // before anything is measured, on the server too
    initialRect: { width: 1280, height: 620 },
    getItemKey: (index) => index,
  });
  // heights depend on the selected row only if it opens
  const opened = band === 'stamps' ? hand : -1;
  useEffect(() => virtual.measure(), [virtual, band, opened]);
  useEffect(() => {
    if (hand >= total) return;
    const { measurementsCache, scrollOffset, scrollRect } = virtual;
    const row = measurementsCache[hand];
    // a row in full sight needs no scrolling, and no laying out of the page to find that
    const inSight =
      opened < 0 &&
      row &&
      scrollRect &&
      scrollOffset !== null &&
      row.start >= scrollOffset &&
      row.end <= scrollOffset + scrollRect.height;
    if (!inSight) virtual.scrollToIndex(hand, { align: 'auto' });
  }, [virtual, hand, total, band, opened]);
  const items = virtual.getVirtualItems();
  const first = items[0]?.index ?? 0;
  const lastSeen = items.at(-1)?.index ?? 0;
  useEffect(() => see(first, lastSeen, hand), [see, first, lastSeen, hand]);
  const columns = columnsFor(band);
  const gridColumn = bands.indexOf(band) + 2;
  const scrolled = useRef(0);
  const follow = (top: number) => {
    const before = scrolled.current;
    scrolled.current = top;
    if (document.querySelector('[role=dialog]')) return;
    if (top > before + 2 && top > 60 && !state.folded) state.fold(true);
    else if (top === 0 && before > 0 && state.folded) state.fold(false);
  };
  return (
    <Frame>
      <Heads columns={columns} />
      <Scroller
        ref={scroller}
        tabIndex={0}
        role="grid"
        aria-label={wording.recordsOfTheJob}
        aria-rowcount={total + 1}
        aria-colcount={5}
        // a row that is not drawn cannot be the active one
        aria-activedescendant={
          items.some((item) => item.index === hand) ? `row-${hand}` : undefined
        }
        style={{ gridRow: 4, gridColumn: 1 }}
        // who scrolls through the rows wants to see rows; back at the top the sentence is whole
        // again
        onScroll={(e) => follow(e.currentTarget.scrollTop)}
      >
        <div role="rowgroup">
          <div role="row" aria-rowindex={1}>
            {[wording.record, ...bands.map((name) => bandNames[name])].map((name) => (
              <VisuallyHidden key={name} role="columnheader">
                {name}
              </VisuallyHidden>
            ))}
          </div>
        </div>
        <div role="rowgroup" style={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {items.map((item) => {
            return (
              <RecordLine
                key={item.key}
                index={item.index}
                record={rowAt(item.index)}
                band={band}
                columns={columns}
                top={item.start}
                height={item.size}
                inHand={item.index === hand}
                PieceOf={PieceOf}
                take={setHand}
              />
            );
          })}
        </div>
        {total === 0 && !loading && (
          <Empty>
            {job.judging > 0
              ? wording.theRecordsAreBeing
              : job.counts.all === 0
                ? wording.thisListHasNo
                : state.view.q
                  ? filled(wording.noRecordContains, state.view.q)
                  : wording.noRecordMatches}
          </Empty>
        )}
      </Scroller>
      {(band === 'piece' || band === 'run') && (
        <Overlay style={{ gridTemplateColumns: columns }}>
          <div style={{ gridColumn }}>{band !== 'piece' ? <RunBand /> : <OpenPiece />}</div>
        </Overlay>
      )}
    </Frame>
  );
}

/** Over the rows: the bands, the sentence of the open one, and the heads of its table. */
const Heads = memo(function Heads({ columns }: { columns: string }) {
  const state = useJob();
  const { band, job } = state;
  const { Sentence } = pieceBands[groundOf(job.document.piece)];
  const sentences: Record<Band, ReactNode> = {
    records: <RecordsSentence />,
    stamps: <StampsSentence />,
    piece: <Sentence />,
    run: <RunSentence />,
  };
  const gridColumn = bands.indexOf(band) + 2;
  return (
    <>
      <Line style={{ gridTemplateColumns: columns }}>
        <SpineHead />
        {bands.map((name, i) => (
          <BandHead
            key={name}
            type="button"
            aria-expanded={band === name}
            aria-label={`${bandNames[name]}: ${bandCount(name, state)}`}
            onClick={() => state.openBand(name)}
          >
            <b>{bandNames[name]}</b>
            <kbd>{i + 1}</kbd>
            <span title={bandCount(name, state)}>
              {band === name ? bandCount(name, state) : shortCount(name, state)}
            </span>
          </BandHead>
        ))}
      </Line>
      <Saying
        data-folded={state.folded || undefined}
        onFocus={(e) => e.target.matches('.whole *') && state.fold(false)}
      >
        <div className="whole">{sentences[band]}</div>
        <button
          type="button"
          className="fold"
          aria-expanded={!state.folded}
          onClick={state.foldSentence}
          title="S"
        >
          {state.folded ? wording.wholeSentence : wording.shorten}
        </button>
      </Saying>
      <Line style={{ gridTemplateColumns: columns }}>
        {band === 'records' && (
          <>
            <RecordsTools />
            <div style={{ gridColumn, background: colour.paper }}>
              <RecordsHeads />
            </div>
            <div style={{ gridColumn: `${gridColumn + 1} / -1` }}>
              <ColumnsBeyond />
            </div>
          </>
        )}
      </Line>
    </>
  );
});

interface LineOf {
  index: number;
  record: LedgerRow | undefined;
  band: Band;
  columns: string;
  top: number;
  height: number;
  inHand: boolean;
  PieceOf: OnGround['Cell'];
  take: (index: number) => void;
}

/** One record across the bands; a step through the records draws the two it is about. */
const RecordLine = memo(function RecordLine({
  index,
  record,
  band,
  columns,
  top,
  height,
  inHand,
  PieceOf,
  take,
}: LineOf) {
  return (
    <Row
      id={`row-${index}`}
      role="row"
      aria-rowindex={index + 2}
      aria-selected={inHand}
      style={{ gridTemplateColumns: columns, top, height }}
      // on the click and not before it: the row that opens moves the others, and a tick would miss
      // its box
      onClick={(e) => !(e.target as HTMLElement).closest('input[type=checkbox]') && take(index)}
    >
      <SpineCell record={record} index={index} />
      <div role="gridcell" data-open={band === 'records' || undefined}>
        {record && (
          <RecordsCell
            key={record.id}
            record={record}
            index={index}
            open={band === 'records'}
            inHand={inHand}
          />
        )}
      </div>
      <div role="gridcell" data-open={band === 'stamps' || undefined}>
        {record && <StampsCell record={record} open={band === 'stamps'} inHand={inHand} />}
      </div>
      <div role="gridcell">{record && band !== 'piece' && <PieceOf record={record} />}</div>
      <div role="gridcell">{record && band !== 'run' && <RunCell record={record} />}</div>
    </Row>
  );
});

function bandCount(band: Band, { job }: ReturnType<typeof useJob>): string {
  const { bands: n, counts, document } = job;
  if (band === 'records')
    return n.records ? filled(wording.toCheck, n.records.toLocaleString('en')) : wording.allReady;
  if (band === 'stamps') {
    const stamps = counted(document.stamps.length, 'stamp');
    const fits = counts.all - n.stampsOut - n.stamps;
    if (n.stamps + n.stampsOut === 0) return filled(wording.allFit, stamps);
    const without = counts.all - n.drawn;
    return [
      filled(wording.fits, stamps, fits.toLocaleString('en')),
      n.drawn > fits && filled(wording.toCheck, (n.drawn - fits).toLocaleString('en')),
      without > 0 && filled(wording.leftOut, without.toLocaleString('en')),
    ]
      .filter(Boolean)
      .join(', ');
  }
  if (band === 'piece')
    return n.piece ? filled(wording.toCheck, n.piece.toLocaleString('en')) : wording.allFit2;
  return filled(wording.ready, counts.ready.toLocaleString('en'));
}

/** The count of a folded band, short enough for its width. */
function shortCount(band: Band, state: ReturnType<typeof useJob>): string {
  const { bands: n } = state.job;
  if (band !== 'stamps') return bandCount(band, state);
  const without = state.job.counts.all - n.drawn;
  if (without > 0) return filled(wording.leftOut, without.toLocaleString('en'));
  return n.stamps === 0 ? wording.allFit2 : filled(wording.toCheck, n.stamps.toLocaleString('en'));
}
