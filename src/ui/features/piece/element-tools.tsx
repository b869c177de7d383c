'use client';

import { sideOf, type Piece, type PieceElement } from '../../../core/piece/model';
import type { ElementBoxMm } from '../../../core/piece/aligning';
import type { Stock } from '../../../core/piece/stock';
import { kindWords } from './piece-parts';
import { ChoicePart, PlainButton } from '../../kit/controls';
import { elementTools as wording } from './words';
import { filled, withParts } from '../../kit/with-parts';

const quiet = { padding: '3px 0', textDecoration: 'underline', textUnderlineOffset: 3 } as const;
const round = (n: number): number => Math.round(n * 10) / 10;

/** Where an element may be on its piece; `box` is what it takes up for the selected record. */
const places = [
  {
    id: 'left',
    name: wording.toTheLeftEdge,
    move: (b: ElementBoxMm, s: Stock, m: number) => ({ dx: m - b.x, dy: 0, s }),
  },
  {
    id: 'centre',
    name: wording.toTheMiddleAcross,
    move: (b: ElementBoxMm, s: Stock) => ({ dx: (s.piece.width - b.width) / 2 - b.x, dy: 0 }),
  },
  {
    id: 'right',
    name: wording.toTheRightEdge,
    move: (b: ElementBoxMm, s: Stock, m: number) => ({
      dx: s.piece.width - m - b.width - b.x,
      dy: 0,
    }),
  },
  {
    id: 'top',
    name: wording.toTheTop,
    move: (b: ElementBoxMm, _s: Stock, m: number) => ({ dx: 0, dy: m - b.y }),
  },
  {
    id: 'middle',
    name: wording.toTheMiddleDown,
    move: (b: ElementBoxMm, s: Stock) => ({ dx: 0, dy: (s.piece.height - b.height) / 2 - b.y }),
  },
  {
    id: 'bottom',
    name: wording.toTheBottom,
    move: (b: ElementBoxMm, s: Stock, m: number) => ({
      dx: 0,
      dy: s.piece.height - m - b.height - b.y,
    }),
  },
] as const;

/** Actions for the selected element: position, order, lock, duplicate, remove. */
export function ElementTools({
  element,
  box,
  stock,
  safe,
  piece,
  onPiece,
  onSelect,
  onWith,
}: {
  element: PieceElement;
  box: ElementBoxMm | undefined;
  stock: Stock;
  safe: number;
  piece: Piece;
  onPiece: (piece: Piece) => void;
  onSelect: (id: string | undefined) => void;
  /** Adds another element to the selection. */
  onWith: (id: string) => void;
}) {
  const { elements } = piece;
  const at = elements.findIndex((e) => e.id === element.id);
  const others = elements.filter((e) => e.id !== element.id && sideOf(e) === sideOf(element));
  // what is over and under it on its own side; the other side has an order of its own
  const onSide = (e: PieceElement) => sideOf(e) === sideOf(element);
  const over = elements.findIndex((e, i) => i > at && onSide(e));
  const under = elements.findLastIndex((e, i) => i < at && onSide(e));
  const put = (next: PieceElement[]) => onPiece({ ...piece, elements: next });
  const swap = (to: number) => {
    const next = elements.filter((e) => e.id !== element.id);
    put([...next.slice(0, to), element, ...next.slice(to)]);
  };
  const double = () => {
    const copy = {
      ...element,
      id: `${element.kind}-${Date.now().toString(36)}`,
      x: element.x + 2,
      y: element.y + 2,
      locked: undefined,
    };
    put([...elements, copy]);
    onSelect(copy.id);
  };
  return (
    <div
      style={{
        display: 'flex',
        gap: '0 16px',
        flexWrap: 'wrap',
        alignItems: 'baseline',
        paddingTop: 3,
        fontSize: 13,
      }}
    >
      {box && !element.locked && (
        <span>
          {withParts(
            wording.moveTo2,
            <ChoicePart
              acts
              label={wording.moveTo}
              value={undefined}
              choices={places.map(({ id, name }) => ({ id, name }))}
              onChange={(id) => {
                const { dx, dy } = places.find((p) => p.id === id)!.move(box, stock, safe);
                put(
                  elements.map((e) =>
                    e.id === element.id ? { ...e, x: round(e.x + dx), y: round(e.y + dy) } : e,
                  ),
                );
              }}
            >
              {wording.moveToEdgeOr}
            </ChoicePart>,
          )}
        </span>
      )}
      {others.length > 0 && (
        <span>
          {withParts(
            wording.choose,
            <ChoicePart
              acts
              label={wording.selectAnotherElementWith}
              value={undefined}
              choices={others.map((e) => ({
                id: e.id,
                name: filled(wording.atMm, kindWords[e.kind], e.x, e.y),
              }))}
              onChange={onWith}
            >
              {wording.selectAnotherElement}
            </ChoicePart>,
          )}
        </span>
      )}
      <PlainButton style={quiet} isDisabled={over < 0} onPress={() => swap(over)}>
        {wording.moveOneLayerUp}
      </PlainButton>
      <PlainButton style={quiet} isDisabled={under < 0} onPress={() => swap(under)}>
        {wording.moveOneLayerDown}
      </PlainButton>
      <PlainButton
        style={quiet}
        aria-pressed={Boolean(element.locked)}
        onPress={() =>
          put(
            elements.map((e) =>
              e.id === element.id ? { ...e, locked: e.locked ? undefined : true } : e,
            ),
          )
        }
      >
        {element.locked ? wording.unlock : wording.lockPosition}
      </PlainButton>
      <PlainButton style={quiet} onPress={double}>
        {wording.duplicate}
      </PlainButton>
      <PlainButton
        style={quiet}
        onPress={() => {
          onSelect(undefined);
          put(elements.filter((e) => e.id !== element.id));
        }}
      >
        {wording.remove}
      </PlainButton>
    </div>
  );
}
