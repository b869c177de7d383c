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

/** The line that is nearest to any of the edges, within reach. */
export function nearest(edges: readonly number[], lines: readonly number[]): Near | undefined {
  let best: Near | undefined;
  for (const edge of edges)
    for (const at of lines)
      if (Math.abs(at - edge) < reach && Math.abs(at - edge) < Math.abs(best?.shift ?? Infinity))
        best = { shift: at - edge, at };
  return best;
}

const edgesAndMiddle = (start: number, length: number) => [
  start,
  start + length / 2,
  start + length,
];

/**
 * Where things are drawn to across: the edges and middles of the others, of the piece and of its
 * safe area.
 */
export const linesAcross = (
  others: readonly ElementBoxMm[],
  { width }: { width: number },
  safe: number,
): number[] => [
  0,
  safe,
  width / 2,
  width - safe,
  width,
  ...others.flatMap((o) => edgesAndMiddle(o.x, o.width)),
];
/** The same down. */
export const linesDown = (
  others: readonly ElementBoxMm[],
  { height }: { height: number },
  safe: number,
): number[] => [
  0,
  safe,
  height / 2,
  height - safe,
  height,
  ...others.flatMap((o) => edgesAndMiddle(o.y, o.height)),
];

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
  const x = nearest(edgesAndMiddle(box.x + dx, box.width), linesAcross(others, piece, safe));
  const y = nearest(edgesAndMiddle(box.y + dy, box.height), linesDown(others, piece, safe));
  return {
    dx: dx + (x?.shift ?? 0),
    dy: dy + (y?.shift ?? 0),
    guides: [
      ...(x ? [{ axis: 'x' as const, at: x.at }] : []),
      ...(y ? [{ axis: 'y' as const, at: y.at }] : []),
    ],
  };
}
