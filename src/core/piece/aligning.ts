/** The box of an element on its piece, in mm. */
export interface ElementBoxMm {
  id: string;
  x: number;
  y: number;
  width: number;
  height: number;
}

export const alignments = [
  { id: 'left', name: 'at their left edges' },
  { id: 'centre', name: 'at their middles across' },
  { id: 'right', name: 'at their right edges' },
  { id: 'top', name: 'at their tops' },
  { id: 'middle', name: 'at their middles down' },
  { id: 'bottom', name: 'at their bottoms' },
  { id: 'spread-across', name: 'with even gaps across' },
  { id: 'spread-down', name: 'with even gaps down' },
] as const;
export type Alignment = (typeof alignments)[number]['id'];

/**
 * How far each box moves, in mm, so that all of them are lined up within the room they take
 * together, or have even gaps.
 */
export function aligned(
  boxes: readonly ElementBoxMm[],
  how: Alignment,
): Map<string, { dx: number; dy: number }> {
  const down = how === 'top' || how === 'middle' || how === 'bottom' || how === 'spread-down';
  const start = (b: ElementBoxMm) => (down ? b.y : b.x);
  const size = (b: ElementBoxMm) => (down ? b.height : b.width);
  const first = Math.min(...boxes.map(start));
  const last = Math.max(...boxes.map((b) => start(b) + size(b)));
  const moves = new Map<string, { dx: number; dy: number }>();
  const put = (b: ElementBoxMm, at: number) =>
    moves.set(b.id, down ? { dx: 0, dy: at - b.y } : { dx: at - b.x, dy: 0 });
  if (how === 'spread-across' || how === 'spread-down') {
    const gap =
      (last - first - boxes.reduce((sum, b) => sum + size(b), 0)) / Math.max(1, boxes.length - 1);
    let at = first;
    for (const b of [...boxes].sort((a, c) => start(a) - start(c))) {
      put(b, at);
      at += size(b) + gap;
    }
    return moves;
  }
  for (const b of boxes)
    put(
      b,
      how === 'left' || how === 'top'
        ? first
        : how === 'right' || how === 'bottom'
          ? last - size(b)
          : (first + last - size(b)) / 2,
    );
  return moves;
}
