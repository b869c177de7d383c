'use client';

import { memo, useCallback, useEffect, useRef, useState } from 'react';
import { styled } from 'styled-components';
import {
  safeMarginMm,
  sideOf,
  type Piece,
  type PieceElement,
  type Side,
} from '../../../core/piece/model';
import type { PieceProblem } from '../../../core/piece/piece';
import type { Guide } from '../../../core/piece/snapping';
import { stockOf } from '../../../core/piece/stock';
import { ElementSentence } from './element-sentence';
import { ElementBox, Grips, Rulers, type Shift } from './piece-parts';
import { PieceSvg } from '../../editors/piece/piece-svg';
import { goBar, QuietButton, ZoomButtons } from '../../kit/controls';
import { useHeld, useLivePiece, usePiece } from '../../kit/core-client';
import { useHand, useJob, type JumpTo } from '../../shell/ledger/context';
import { colour } from '../../kit/theme';
import { ElementTools } from './element-tools';
import { ManyTools } from './many-tools';
import { OnThePiece } from './on-the-piece';
import { placed } from './placed';
import { Proofs } from './proofs';
import { pieceBand as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const Bench = styled.div`
  height: 100%;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  /* the sentence has its room whatever is pointed at, so that the piece never changes its size under the pointer */
  grid-template-rows: minmax(0, 1fr) 136px auto;
  > .told {
    overflow: auto;
    background: ${colour.paper};
  }
  .bench {
    background: ${colour.groundDeep};
    overflow: auto;
    display: grid;
    place-items: center;
    padding: 30px 34px 18px;
    position: relative;
  }
  ${goBar}
`;

const tenth = (mm: number): number => Math.round(mm * 10) / 10;

const noProblems: readonly PieceProblem[] = [];

/** The piece of the selected record, edited directly, or all records as small proofs. */
export function PieceBand() {
  const { job, rowAt, jump, save } = useJob();
  const { hand, handRow } = useHand();
  const { piece, stamps } = job.document;
  const stock = stockOf(piece);
  const [chosen, setSelected] = useState<readonly string[]>([]);
  // the piece during a drag or a resize; kept after that until the job has it
  const [draft, setDraft] = useState<{ piece: Piece; from: Piece }>();
  const [chosenSide, setSide] = useState<Side>('front');
  const [zoom, setZoom] = useState(1);
  const [proofs, setProofs] = useState(false);
  const [guides, setGuides] = useState<readonly Guide[]>([]);
  const side: Side = piece.sides === 2 ? chosenSide : 'front';
  const takeSide = useCallback((next: Side) => (setSide(next), setSelected([])), []);
  const takeOne = useCallback((id: string) => setSelected([id]), []);
  // a new element is selected
  useEffect(() => {
    const fresh = piece.elements.find((e) => e.id === placed.id);
    if (!fresh) return;
    placed.id = undefined;
    setProofs(false);
    setSide(sideOf(fresh));
    setSelected([fresh.id]);
  }, [piece.elements]);
  if (draft && draft.from !== piece) setDraft(undefined);
  const live = useLivePiece(draft?.piece, stamps, handRow?.values, side, job.list.id);
  const settled = usePiece(piece, stamps, handRow?.values, { side, list: job.list.id });
  // the records beside it are drawn too, so that stepping to them shows them at once
  usePiece(piece, stamps, rowAt(hand + 1)?.values, { side, list: job.list.id });
  usePiece(piece, stamps, rowAt(hand - 1)?.values, { side, list: job.list.id });
  // while the next one is drawn the last one stays, so that nothing flickers
  const picture = useHeld(live ?? settled, side);
  const bench = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState({ width: 700, height: 380 });
  useEffect(() => {
    const element = bench.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setRoom({ width: element.clientWidth - 90, height: element.clientHeight - 80 }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [proofs]);
  const scale =
    Math.max(0.8, Math.min(room.width / stock.piece.width, room.height / stock.piece.height)) *
    zoom;
  const selected = chosen.filter((id) =>
    piece.elements.some((e) => e.id === id && sideOf(e) === side),
  );
  const element =
    selected.length === 1 ? piece.elements.find((e) => e.id === selected[0]) : undefined;
  const setPiece = (next: Piece) => save((d) => ({ ...d, piece: next }));
  const change = (next: PieceElement) => setPiece(withElement(next));
  /** The piece with all selected elements moved that are not locked. */
  const moved = ({ dx, dy }: Shift): Piece => ({
    ...piece,
    elements: piece.elements.map((e) =>
      selected.includes(e.id) && !e.locked ? { ...e, x: tenth(e.x + dx), y: tenth(e.y + dy) } : e,
    ),
  });
  const withElement = (next: PieceElement): Piece => ({
    ...piece,
    elements: piece.elements.map((e) => (e.id === next.id ? next : e)),
  });
  const letGo = (next: Piece) => {
    setDraft({ piece: next, from: piece });
    setPiece(next);
  };
  const boxes = picture?.boxes ?? [];
  const pulledBox = boxes.find((b) => b.id === element?.id);
  const { width, height } = stock.piece;
  return (
    <Bench>
      {proofs ? (
        <Proofs onPick={() => setProofs(false)} />
      ) : (
        <div
          className="bench"
          ref={bench}
          onPointerDown={(e) => e.target === e.currentTarget && setSelected([])}
        >
          <Rulers width={width} height={height} scale={scale}>
            <div
              style={{
                position: 'relative',
                width: width * scale,
                height: height * scale,
                outline: `1px solid ${colour.ruleStrong}`,
                borderRadius: stock.cornerRadius * scale,
                overflow: 'hidden',
              }}
            >
              <PieceSvg
                picture={picture}
                piece={piece}
                width={width * scale}
                label={filled(
                  wording.theOfThePiece,
                  side,
                  handRow ? wording.theSelectedRecord : wording.noRecord,
                )}
              />
            </div>
            <div
              aria-hidden
              style={{
                position: 'absolute',
                inset: safeMarginMm * scale,
                border: `1px dashed ${colour.ruleStrong}`,
                pointerEvents: 'none',
              }}
            />
            {stock.fold !== undefined && (
              <div
                aria-hidden
                style={{
                  position: 'absolute',
                  left: 0,
                  right: 0,
                  top: stock.fold * scale,
                  borderTop: `1px dashed ${colour.inkSoft}`,
                }}
              />
            )}
            {boxes.map((box) => (
              <ElementBox
                key={box.id}
                box={box}
                others={boxes.filter(
                  (b) => b.id !== box.id && !(selected.includes(box.id) && selected.includes(b.id)),
                )}
                piece={stock.piece}
                element={piece.elements.find((e) => e.id === box.id)}
                scale={scale}
                selected={selected.includes(box.id)}
                onSelect={(together) =>
                  setSelected(
                    together
                      ? selected.includes(box.id)
                        ? selected.filter((id) => id !== box.id)
                        : [...selected, box.id]
                      : [box.id],
                  )
                }
                onDrag={(by) => setDraft(by && { piece: moved(by), from: piece })}
                onMove={(by) => letGo(moved(by))}
                onGuides={setGuides}
                onRemove={() =>
                  setPiece({
                    ...piece,
                    elements: piece.elements.filter((e) => !selected.includes(e.id) || e.locked),
                  })
                }
                problem={picture?.problems.find((p) => p.element === box.id)?.reason}
              />
            ))}
            {element && pulledBox && (
              <Grips
                box={pulledBox}
                element={element}
                others={boxes.filter((b) => b.id !== element.id)}
                piece={stock.piece}
                scale={scale}
                onGuides={setGuides}
                onPull={(next) => setDraft(next && { piece: withElement(next), from: piece })}
                onPulled={(next) => letGo(withElement(next))}
              />
            )}
            {guides.map(({ axis, at }) => (
              <div
                key={`${axis}${at}`}
                aria-hidden
                style={{
                  position: 'absolute',
                  background: colour.violet,
                  pointerEvents: 'none',
                  ...(axis === 'x'
                    ? { left: at * scale, top: -10, bottom: -10, width: 1 }
                    : { top: at * scale, left: -10, right: -10, height: 1 }),
                }}
              />
            ))}
          </Rulers>
        </div>
      )}
      <div className="told">
        {element && !proofs ? (
          <ElementSentence
            key={element.id}
            element={element}
            stock={stock}
            problem={picture?.problems.find((p) => p.element === element.id)}
            box={boxes.find((b) => b.id === element.id)}
            onChange={change}
            tools={
              <ElementTools
                element={element}
                box={boxes.find((b) => b.id === element.id)}
                stock={stock}
                safe={safeMarginMm}
                piece={piece}
                onPiece={setPiece}
                onSelect={(id) => setSelected(id ? [id] : [])}
                onWith={(id) => setSelected([...selected, id])}
              />
            }
          />
        ) : selected.length > 1 && !proofs ? (
          <ManyTools
            ids={selected}
            boxes={boxes}
            piece={piece}
            onPiece={setPiece}
            onSelect={setSelected}
          />
        ) : (
          <OnThePiece
            piece={piece}
            side={side}
            problems={picture?.problems.length ? picture.problems : noProblems}
            onPick={takeOne}
          />
        )}
      </div>
      <GoBar
        sides={piece.sides}
        side={side}
        onSide={takeSide}
        over={job.bands.piece}
        jump={jump}
        proofs={proofs}
        setProofs={setProofs}
        percent={Math.round((scale / (96 / 25.4)) * 100)}
        width={width}
        height={height}
        zoom={zoom}
        setZoom={setZoom}
      />
    </Bench>
  );
}

/**
 * Where to go, and the zoom; separate, so that a step through the records does not draw its buttons
 * again.
 */
const GoBar = memo(function GoBar({
  sides,
  side,
  onSide,
  over,
  jump,
  proofs,
  setProofs,
  percent,
  width,
  height,
  zoom,
  setZoom,
}: {
  sides: Piece['sides'];
  side: Side;
  onSide: (side: Side) => void;
  /** Records of which something on the piece wants a look. */
  over: number;
  jump: (to: JumpTo) => void;
  proofs: boolean;
  setProofs: (on: boolean) => void;
  /** Of its true size. */
  percent: number;
  /** Of the piece, in mm. */
  width: number;
  height: number;
  zoom: number;
  setZoom: (zoom: number) => void;
}) {
  return (
    <div className="go">
      {sides === 2 && (
        <>
          {(['front', 'back'] as const).map((name) => (
            <QuietButton looks key={name} aria-pressed={side === name} onPress={() => onSide(name)}>
              {name}
            </QuietButton>
          ))}
          <span style={{ width: 6 }} />
        </>
      )}
      <span style={{ whiteSpace: 'nowrap' }}>{wording.goTo}</span>
      <QuietButton looks onPress={() => jump('longest')}>
        {wording.longest}
      </QuietButton>
      <QuietButton looks onPress={() => jump('shortest')}>
        {wording.shortest}
      </QuietButton>
      <QuietButton looks onPress={() => jump('scripts')}>
        {wording.otherScripts}
      </QuietButton>
      <QuietButton looks isDisabled={over === 0} onPress={() => jump('over')}>
        {withParts(wording.needsALook, over.toLocaleString('en'))}
      </QuietButton>
      <QuietButton looks aria-pressed={proofs} onPress={() => setProofs(!proofs)}>
        {wording.allRecords}
      </QuietButton>
      <span
        className="measure"
        title={filled(
          wording.ofItsTrueSize,
          percent,
          Math.round(width * 10) / 10,
          Math.round(height * 10) / 10,
        )}
      >
        {withParts(wording.at, percent, <ZoomButtons zoom={zoom} setZoom={setZoom} most={6} />)}
      </span>
    </div>
  );
});
