'use client';
import { outputOf } from '../../../core/run/outputs';
import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type ReactNode, type RefObject } from 'react';
import type { SheetProof } from '../../../contract';
import type { Stamp } from '../../../core/payload/stamp';
import { sidesOf, type Side } from '../../../core/piece/model';
import { onGround } from '../../../core/grounds';
import { placeOnStock, stockOf } from '../../../core/piece/stock';
import { keyColumn, nameColumn, type Column, type Values } from '../../../core/records/columns';
import { shown } from '../../../core/records/sealed';
import { cropMarks, markMargin, reachOf } from '../../../core/run/plan';
import { ask } from '../../kit/api';
import { useOptions } from '../../editors/piece/on-sheets';
import { CodeSvg } from '../../kit/code-picture';
import { ChoicePart, ErrorLine, QuietButton, Small } from '../../kit/controls';
import { useCode, usePiece } from '../../kit/core-client';
import { useHand, useJob } from '../../shell/ledger/context';
import { PieceSvg } from '../../editors/piece/piece-svg';
import { colour } from '../../kit/theme';
import { PaperSheets } from './paper-sheets';
import { useProof } from './proof';
import { useRoom } from './use-room';
import { sheets as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

type Item = SheetProof['items'][number];

/**
 * What the run of the sentence will make, page by page, from the artwork that will be printed.
 * Pressing a piece selects its row.
 */
export function Sheets() {
  const { job } = useJob();
  const runs = useQuery({
    queryKey: ['runs', job.id],
    queryFn: () => ask('listRuns', { params: { id: job.id } }),
  });
  const printed = runs.data?.runs.filter((run) => run.onPaper && run.sheets > 0) ?? [];
  const [chosen, setChosen] = useState<number>();
  const run = printed.find(({ id }) => id === chosen);
  const head = printed.length > 0 && (
    <p style={{ margin: '0 0 8px', textAlign: 'center' }}>
      {withParts(
        wording.shown,
        <ChoicePart
          looks
          label={wording.whatIsShown}
          value={run ? String(run.id) : 'plan'}
          choices={[
            { id: 'plan', name: wording.whatWillBeMade },
            ...printed.map(({ id, name }) => ({
              id: String(id),
              name: filled(wording.onPaper, name),
              about: wording.whatWasReadFrom,
            })),
          ]}
          onChange={(id) => setChosen(id === 'plan' ? undefined : Number(id))}
        >
          {run ? filled(wording.onPaper, run.name) : wording.whatWillBeMade}
        </ChoicePart>,
      )}
    </p>
  );
  return run ? <PaperSheets key={run.id} run={run} head={head} /> : <PlannedSheets head={head} />;
}

function PlannedSheets({ head }: { head: ReactNode }) {
  const { job, plan } = useJob();
  const [page, setPage] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const sides = outputOf(plan.output.kind).sheets
    ? sidesOf(job.document.piece)
    : (['front'] as const);
  // the number is known once the first one is; a page beyond the last is never requested
  const first = useProof(0);
  const pages = (first.data?.sheets ?? 0) * sides.length;
  const shown = Math.min(page, Math.max(0, pages - 1));
  const sheet = Math.floor(shown / sides.length);
  const side: Side = sides[shown % sides.length]!;
  const { data, error, isPlaceholderData } = useProof(sheet);
  if (error)
    return (
      <div className="sheets">
        {head}
        <ErrorLine>{error.message}</ErrorLine>
      </div>
    );
  if (!data || pages === 0)
    return (
      <div className="sheets" ref={box}>
        {head}
        <Small>{data ? wording.noRecordThatCan : wording.drawing}</Small>
      </div>
    );
  const total = first.data!.sheets;
  const what = outputOf(plan.output.kind).sheets ? 'sheet' : 'part';
  return (
    <div className="sheets" ref={box}>
      <div>
        {head}
        <div className="pager">
          <QuietButton looks isDisabled={shown === 0} onPress={() => setPage(shown - 1)}>
            {wording.previousPage}
          </QuietButton>
          <span>
            {withParts(
              wording.of2,
              sides.length === 2 && filled(wording.of, side),
              what,
              (sheet + 1).toLocaleString('en'),
              total.toLocaleString('en'),
            )}
          </span>
          <QuietButton looks isDisabled={shown >= pages - 1} onPress={() => setPage(shown + 1)}>
            {wording.nextPage}
          </QuietButton>
        </div>
      </div>
      {outputOf(plan.output.kind).sheets ? (
        <Sheet items={isPlaceholderData ? [] : data.items} side={side} box={box} />
      ) : (
        <Grid items={data.items} whole={outputOf(plan.output.kind).piece ?? false} />
      )}
    </div>
  );
}

/**
 * One side of a sheet at true proportion, with the marks for cutting and the printer's offset when
 * they are wanted.
 */
function Sheet({
  items,
  side,
  box,
}: {
  items: readonly Item[];
  side: Side;
  box: RefObject<HTMLDivElement | null>;
}) {
  const { job, plan } = useJob();
  const [options] = useOptions();
  const room = useRoom(box);
  const printers = useQuery({
    queryKey: ['printers'],
    queryFn: () => ask('listPrinters'),
  });
  const printer = printers.data?.printers.find((p) => p.id === plan.printer);
  const stock = stockOf(job.document.piece);
  const margin = options.marks ? markMargin : 0;
  const [width, height] = [stock.page.width + 2 * margin, stock.page.height + 2 * margin];
  const scale = Math.max(0.8, Math.min(room.width / width, (room.height - 50) / height));
  return (
    <div
      style={{
        position: 'relative',
        width: width * scale,
        height: height * scale,
        background: colour.paper,
        outline: `1px solid ${colour.ruleStrong}`,
        overflow: 'hidden',
      }}
    >
      {margin > 0 && (
        <svg
          viewBox={`0 0 ${width} ${height}`}
          style={{ position: 'absolute', inset: 0 }}
          aria-hidden
        >
          {cropMarks(stock).map(
            (mark, i) =>
              mark.kind === 'rect' && (
                <rect
                  key={i}
                  x={mark.x}
                  y={mark.y}
                  width={mark.width}
                  height={mark.height}
                  fill={colour.ink}
                />
              ),
          )}
        </svg>
      )}
      {items.map((item) => {
        const place = placeOnStock(stock, item.seq, options.start, options.order);
        // backs lie mirrored, for sheets that are turned over sideways
        const x = side === 'front' ? place.x : stock.page.width - place.x - stock.piece.width;
        return (
          <Piece
            key={item.seq}
            item={item}
            side={side}
            x={(x + margin + (printer?.offsetX ?? 0)) * scale}
            y={(place.y + margin + (printer?.offsetY ?? 0)) * scale}
            width={stock.piece.width * scale}
          />
        );
      })}
    </div>
  );
}

const titleOf = (values: Values, columns: readonly Column[]): string =>
  shown(values[(nameColumn(columns) ?? keyColumn(columns) ?? columns[0])?.id ?? ''] ?? '');

function useTakeInHand(record: number) {
  const { jump } = useJob();
  const { handRow } = useHand();
  const inHand = handRow?.id === record;
  return { inHand, take: () => !inHand && jump({ record }) };
}

function Piece({
  item,
  side,
  x,
  y,
  width,
}: {
  item: Item;
  side: Side;
  x: number;
  y: number;
  width: number;
}) {
  const { job } = useJob();
  const { inHand, take } = useTakeInHand(item.record);
  const picture = usePiece(job.document.piece, job.document.stamps, item.values, {
    list: job.list.id,
    side,
  });
  const stock = stockOf(job.document.piece);
  const { piece } = stock;
  const title = titleOf(item.values, job.list.columns);
  return (
    <button
      type="button"
      title={title}
      aria-label={filled(wording.pieceOf, title)}
      onClick={take}
      onPointerEnter={take}
      style={{
        position: 'absolute',
        left: x,
        top: y,
        width,
        height: (width * piece.height) / piece.width,
        padding: 0,
        border: 0,
        background: 'none',
        cursor: 'pointer',
        outline: inHand ? `2px solid ${colour.violet}` : `0.5px solid ${colour.rule}`,
        zIndex: inHand ? 1 : 0,
      }}
    >
      <PieceSvg picture={picture} piece={job.document.piece} width={width} reach={reachOf(stock)} />
    </button>
  );
}

/** Outputs that are made record by record: whole pieces, or only the codes. */
function Grid({ items, whole }: { items: readonly Item[]; whole: boolean }) {
  const { job } = useJob();
  return (
    <div
      style={{
        display: 'grid',
        gridTemplateColumns: 'repeat(auto-fill, minmax(128px, 1fr))',
        gap: 12,
        width: '100%',
        alignContent: 'start',
      }}
    >
      {items.map((item) => (
        <GridItem key={item.seq} item={item} whole={whole} stamps={job.document.stamps} />
      ))}
    </div>
  );
}

function GridItem({ item, whole, stamps }: { item: Item; whole: boolean; stamps: Stamp[] }) {
  const { job } = useJob();
  const { inHand, take } = useTakeInHand(item.record);
  const title = titleOf(item.values, job.list.columns);
  // a document that is made elsewhere is represented by its codes
  const borne = onGround(job.document.piece).stampsOn(job.document.piece);
  const codes = whole ? stamps.filter((s) => borne.includes(s.id)) : stamps;
  return (
    <button
      type="button"
      onClick={take}
      aria-label={filled(wording.pieceOf, title)}
      style={{
        display: 'grid',
        gap: 6,
        justifyItems: 'start',
        alignContent: 'space-between',
        padding: 8,
        textAlign: 'left',
        background: colour.paper,
        border: 0,
        cursor: 'pointer',
        outline: inHand ? `2px solid ${colour.violet}` : `1px solid ${colour.rule}`,
      }}
    >
      {whole && !job.document.piece.ground ? (
        <WholePiece values={item.values} />
      ) : (
        <span style={{ display: 'flex', gap: 6, flexWrap: 'wrap' }}>
          {codes.map((stamp) => (
            <OneCode
              key={stamp.id}
              stamp={stamp}
              values={item.values}
              width={codes.length > 1 ? 52 : 108}
            />
          ))}
        </span>
      )}
      <span style={{ fontSize: 12.5, lineHeight: 1.25, overflowWrap: 'anywhere' }}>{title}</span>
    </button>
  );
}

function WholePiece({ values }: { values: Values }) {
  const { job } = useJob();
  const { piece, stamps } = job.document;
  const picture = usePiece(piece, stamps, values, { list: job.list.id });
  const { piece: size } = stockOf(piece);
  return (
    <PieceSvg
      picture={picture}
      piece={piece}
      width={Math.min(112, (112 * size.width) / size.height)}
    />
  );
}

function OneCode({ stamp, values, width }: { stamp: Stamp; values: Values; width: number }) {
  const code = useCode(stamp, values);
  return code ? (
    <CodeSvg code={code} size={Math.min(width, (width * code.columns) / code.rows)} />
  ) : null;
}
