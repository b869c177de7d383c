'use client';

import { useRef, useState, type ReactNode } from 'react';
import { styled } from 'styled-components';
import { safeMarginMm, type PieceElement } from '../../core/piece/piece';
import { snapped, type Guide } from '../../core/piece/snapping';
import type { PiecePicture } from '../../workers/protocol';
import { colour, font } from '../theme';

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

export const kindWords = { text: 'Words', stamp: 'Code', picture: 'Picture', rule: 'Rule', box: 'Box' } as const;

/** What can be pointed at, dragged and nudged on the piece: one box per element. */
export function ElementBox({
  box,
  others,
  piece,
  element,
  scale,
  selected,
  onSelect,
  drag,
  onDrag,
  onMove,
  onGuides,
  onRemove,
  problem,
}: {
  box: PiecePicture['boxes'][number];
  others: readonly PiecePicture['boxes'][number][];
  piece: { width: number; height: number };
  element: PieceElement | undefined;
  scale: number;
  selected: boolean;
  /** With Shift it is pointed at together with the others. */
  onSelect: (together: boolean) => void;
  /** How far what is pointed at is being dragged, in mm. */
  drag: Shift | undefined;
  onDrag: (by: Shift | undefined) => void;
  onMove: (by: Shift) => void;
  onGuides: (guides: readonly Guide[]) => void;
  onRemove: () => void;
  problem: string | undefined;
}) {
  const [from, setFrom] = useState<{ x: number; y: number }>();
  const pressed = useRef(false);
  if (!element) return null;
  return (
    <Handle
      type="button"
      aria-pressed={selected}
      aria-label={`${kindWords[element.kind]} at ${element.x}, ${element.y} mm${problem ? `, ${problem}` : ''}`}
      data-problem={problem}
      style={{
        left: (box.x + (selected && drag ? drag.dx : 0)) * scale,
        top: (box.y + (selected && drag ? drag.dy : 0)) * scale,
        width: box.width * scale,
        height: box.height * scale,
        background: selected && drag ? 'rgb(87 54 163 / 10%)' : undefined,
      }}
      onFocus={() => !selected && !pressed.current && onSelect(false)}
      onPointerDown={(e) => {
        // a press on one of several keeps them together, so that they can be dragged
        if (e.shiftKey || !selected) onSelect(e.shiftKey);
        e.preventDefault();
        pressed.current = true;
        e.currentTarget.focus({ preventScroll: true });
        pressed.current = false;
        if (element.locked) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        setFrom({ x: e.clientX, y: e.clientY });
      }}
      onPointerMove={(e) => {
        if (!from) return;
        const free = { dx: (e.clientX - from.x) / scale, dy: (e.clientY - from.y) / scale };
        // with Shift it goes where the pointer goes
        const { dx, dy, guides } = e.shiftKey ? { ...free, guides: [] } : snapped(box, free.dx, free.dy, others, piece, safeMarginMm);
        onGuides(guides);
        onDrag({ dx, dy });
      }}
      onPointerUp={() => {
        if (from && drag && Math.hypot(drag.dx, drag.dy) > 0.3) onMove(drag);
        onGuides([]);
        onDrag(undefined);
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
        if (e.key === 'Delete' && !element.locked) {
          e.preventDefault();
          return onRemove();
        }
        if (!by[e.key] || !e.altKey || element.locked) return;
        e.preventDefault();
        onMove(by[e.key]);
      }}
    />
  );
}

/** Rulers in mm along the top and the left of a piece. */
export function Rulers({ width, height, scale, children }: { width: number; height: number; scale: number; children: ReactNode }) {
  const ticks = (length: number) => Array.from({ length: Math.floor(length / 10) + 1 }, (_, i) => i * 10);
  const style = { position: 'absolute', font: `400 10.5px/1 ${font.code}`, color: colour.inkSoft } as const;
  return (
    <div style={{ position: 'relative' }}>
      <div aria-hidden>
        {ticks(width).map((mm) => (
          <span key={mm} style={{ ...style, left: mm * scale, top: -18, transform: 'translateX(-50%)' }}>
            {mm}
          </span>
        ))}
        {ticks(height).map((mm) => (
          <span key={mm} style={{ ...style, top: mm * scale, left: -24, width: 18, textAlign: 'right', transform: 'translateY(-50%)' }}>
            {mm}
          </span>
        ))}
      </div>
      {children}
    </div>
  );
}
