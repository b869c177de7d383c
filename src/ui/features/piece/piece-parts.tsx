'use client';

import { useRef, useState, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { safeMarginMm, type PieceElement } from '../../../core/piece/model';
import { gripsOf, pulled, withBox, type Grip } from '../../../core/piece/resizing';
import { snapped, type Guide } from '../../../core/piece/snapping';
import type { PiecePicture } from '../../../workers/protocol';
import { useMay } from '../../kit/me';
import { colour, font } from '../../kit/theme';
import { pieceParts as wording } from './words';
import { filled } from '../../kit/with-parts';

const Handle = styled.button`
  all: unset;
  position: absolute;
  cursor: move;
  touch-action: none;
  &:hover {
    outline: 1px solid ${colour.violet};
  }
  &:focus-visible {
    outline: 2px solid ${colour.violet};
  }
  &[aria-pressed='true'] {
    outline: 1.5px solid ${colour.violet};
  }
  &[data-problem] {
    outline: 1.5px solid ${colour.look};
  }
`;

export interface Shift {
  dx: number;
  dy: number;
}

export const kindWords = {
  text: 'Text',
  stamp: wording.code,
  picture: wording.picture,
  rule: wording.rule,
  box: wording.box,
} as const;

type Box = PiecePicture['boxes'][number];

interface Surroundings {
  others: readonly Box[];
  piece: { width: number; height: number };
  scale: number;
  onGuides: (guides: readonly Guide[]) => void;
}

/** What can be selected, dragged and nudged on the piece: one box per element. */
export function ElementBox({
  box,
  others,
  piece,
  element,
  scale,
  selected,
  onSelect,
  onDrag,
  onMove,
  onGuides,
  onRemove,
  problem,
}: Surroundings & {
  box: Box;
  element: PieceElement | undefined;
  selected: boolean;
  /** With Shift it is added to the selection. */
  onSelect: (together: boolean) => void;
  /** How far the selection is being dragged, in mm. */
  onDrag: (by: Shift | undefined) => void;
  onMove: (by: Shift) => void;
  onRemove: () => void;
  problem: string | undefined;
}) {
  // the box where the drag began: the visible one moves with it
  const [from, setFrom] = useState<{ x: number; y: number; box: Box }>();
  const last = useRef<Shift>(undefined);
  const pressed = useRef(false);
  const may = useMay();
  if (!element) return null;
  const locked = element.locked || !may;
  return (
    <Handle
      type="button"
      aria-pressed={selected}
      aria-label={filled(
        wording.atMm,
        kindWords[element.kind],
        element.x,
        element.y,
        problem ? `, ${problem}` : '',
      )}
      data-problem={problem}
      style={{
        left: box.x * scale,
        top: box.y * scale,
        width: box.width * scale,
        height: box.height * scale,
      }}
      onFocus={() => !selected && !pressed.current && onSelect(false)}
      onPointerDown={(e) => {
        // a press on one of several keeps them together, so that they can be dragged
        if (e.shiftKey || !selected) onSelect(e.shiftKey);
        e.preventDefault();
        pressed.current = true;
        e.currentTarget.focus({ preventScroll: true });
        pressed.current = false;
        if (locked) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ x: e.clientX, y: e.clientY, box });
      }}
      onPointerMove={(e) => {
        if (!from) return;
        const free = { dx: (e.clientX - from.x) / scale, dy: (e.clientY - from.y) / scale };
        // with Shift it follows the pointer without snapping
        const { dx, dy, guides } = e.shiftKey
          ? { ...free, guides: [] }
          : snapped(from.box, free.dx, free.dy, others, piece, safeMarginMm);
        last.current = { dx, dy };
        onGuides(guides);
        onDrag(last.current);
      }}
      onPointerUp={() => {
        if (from && last.current && Math.hypot(last.current.dx, last.current.dy) > 0.3)
          onMove(last.current);
        else onDrag(undefined);
        last.current = undefined;
        onGuides([]);
        setFrom(undefined);
      }}
      onKeyDown={(e) => {
        const step = e.shiftKey ? 1 : 0.1;
        const by: Record<string, Shift> = {
          ArrowLeft: { dx: -step, dy: 0 },
          ArrowRight: { dx: step, dy: 0 },
          ArrowUp: { dx: 0, dy: -step },
          ArrowDown: { dx: 0, dy: step },
        };
        if (e.key === 'Delete' && !locked) {
          e.preventDefault();
          return onRemove();
        }
        if (!by[e.key] || !e.altKey || locked) return;
        e.preventDefault();
        onMove(by[e.key]!);
      }}
    />
  );
}

const GripMark = styled.div`
  position: absolute;
  width: 18px;
  height: 18px;
  transform: translate(-50%, -50%);
  touch-action: none;
  display: grid;
  place-items: center;
  &::before {
    content: '';
    width: 7px;
    height: 7px;
    background: ${colour.paper};
    border: 1.5px solid ${colour.violet};
  }
`;
const cursors: Record<Grip, string> = {
  'top-left': 'nwse-resize',
  'bottom-right': 'nwse-resize',
  'top-right': 'nesw-resize',
  'bottom-left': 'nesw-resize',
  left: 'ew-resize',
  right: 'ew-resize',
  top: 'ns-resize',
  bottom: 'ns-resize',
};

/** The grips that resize the selected element. Its sentence does the same from the keyboard. */
export function Grips({
  box,
  element,
  others,
  piece,
  scale,
  onGuides,
  onPull,
  onPulled,
}: Surroundings & {
  box: Box;
  element: PieceElement;
  /** Its size if it were dropped now; undefined if it is dropped where it was. */
  onPull: (element: PieceElement | undefined) => void;
  onPulled: (element: PieceElement) => void;
}) {
  const [from, setFrom] = useState<{
    x: number;
    y: number;
    box: Box;
    element: PieceElement;
    grip: Grip;
  }>();
  const last = useRef<PieceElement>(undefined);
  const may = useMay();
  return (may ? gripsOf(element) : []).map((grip) => (
    <GripMark
      key={grip}
      aria-hidden
      data-grip={grip}
      style={{
        cursor: cursors[grip],
        left:
          (box.x +
            (grip.includes('left') ? 0 : grip.includes('right') ? box.width : box.width / 2)) *
          scale,
        top:
          (box.y +
            (grip.includes('top') ? 0 : grip.includes('bottom') ? box.height : box.height / 2)) *
          scale,
      }}
      onPointerDown={(e) => {
        e.preventDefault();
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ x: e.clientX, y: e.clientY, box, element, grip });
      }}
      onPointerMove={(e) => {
        if (!from) return;
        const [dx, dy] = [(e.clientX - from.x) / scale, (e.clientY - from.y) / scale];
        const around = { others, piece, safe: safeMarginMm, draws: !e.shiftKey };
        const next = pulled(from.box, from.grip, dx, dy, around, element.kind === 'stamp');
        last.current = withBox(from.element, from.box, next.box);
        onGuides(next.guides);
        onPull(last.current);
      }}
      onPointerUp={() => {
        if (last.current) onPulled(last.current);
        else onPull(undefined);
        last.current = undefined;
        onGuides([]);
        setFrom(undefined);
      }}
    />
  ));
}

/** Rulers in mm along the top and the left of a piece. */
export function Rulers({
  width,
  height,
  scale,
  children,
}: {
  width: number;
  height: number;
  scale: number;
  children: ReactNode;
}) {
  // so far apart that the numbers never overlap
  const step = [10, 20, 50, 100].find((mm) => mm * scale >= 26) ?? 100;
  const ticks = (length: number) =>
    Array.from({ length: Math.floor(length / step) + 1 }, (_, i) => i * step);
  const style = {
    position: 'absolute',
    font: `400 10.5px/1 ${font.code}`,
    color: colour.inkSoft,
  } as const;
  return (
    <div style={{ position: 'relative' }}>
      <div aria-hidden>
        {ticks(width).map((mm) => (
          <span
            key={mm}
            style={{ ...style, left: mm * scale, top: -18, transform: 'translateX(-50%)' }}
          >
            {mm}
          </span>
        ))}
        {ticks(height).map((mm) => (
          <span
            key={mm}
            style={{
              ...style,
              top: mm * scale,
              left: -24,
              width: 18,
              textAlign: 'right',
              transform: 'translateY(-50%)',
            }}
          >
            {mm}
          </span>
        ))}
      </div>
      {children}
    </div>
  );
}
