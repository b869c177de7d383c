import type { ElementBoxMm } from './aligning';

/** A line, in mm on the piece, that something was drawn to. */
export interface Guide {
  axis: 'x' | 'y';
  at: number;
}

/** Distance from which things are drawn to one another, in mm. */
const reach = 0.9;

interface Near {
  shift: number;
  at: number;
}

function nearest(edges: readonly number[], lines: readonly number[]): Near | undefined {
  let best: Near | undefined;
  for (const edge of edges)
    for (const at of lines)
      if (Math.abs(at - edge) < reach && Math.abs(at - edge) < Math.abs(best?.shift ?? Infinity)) best = { shift: at - edge, at };
  return best;
}

/**
 * Draws a moved box to the edges and middles of the others, of the piece and of its safe area.
 * @returns the move corrected, and the lines it was drawn to
 */
export function snapped(
  box: ElementBoxMm,
  dx: number,
  dy: number,
  others: readonly ElementBoxMm[],
  piece: { width: number; height: number },
  safe: number,
): { dx: number; dy: number; guides: Guide[] } {
  const across = (start: number, length: number) => [start, start + length / 2, start + length];
  const xs = [0, safe, piece.width / 2, piece.width - safe, piece.width, ...others.flatMap((o) => across(o.x, o.width))];
  const ys = [0, safe, piece.height / 2, piece.height - safe, piece.height, ...others.flatMap((o) => across(o.y, o.height))];
  const x = nearest(across(box.x + dx, box.width), xs);
  const y = nearest(across(box.y + dy, box.height), ys);
  return {
    dx: dx + (x?.shift ?? 0),
    dy: dy + (y?.shift ?? 0),
    guides: [...(x ? [{ axis: 'x' as const, at: x.at }] : []), ...(y ? [{ axis: 'y' as const, at: y.at }] : [])],
  };
}
