import { describe, expect, test } from 'vitest';
import { aligned, alignments, type ElementBoxMm } from '../../src/core/piece/aligning';
import { snapped } from '../../src/core/piece/snapping';

const boxes: ElementBoxMm[] = [
  { id: 'a', x: 2, y: 3, width: 10, height: 4 },
  { id: 'b', x: 20, y: 8, width: 6, height: 8 },
  { id: 'c', x: 40, y: 1, width: 14, height: 2 },
];
const after = (how: (typeof alignments)[number]['id']) => {
  const moves = aligned(boxes, how);
  return boxes.map((b) => ({ ...b, x: b.x + moves.get(b.id)!.dx, y: b.y + moves.get(b.id)!.dy }));
};

describe('several things lined up', () => {
  test.each(alignments.map((a) => a.id))('%s moves them in one direction only, within the room they took', (how) => {
    const down = ['top', 'middle', 'bottom', 'spread-down'].includes(how);
    for (const [i, b] of after(how).entries()) {
      expect(down ? b.x : b.y).toBe(down ? boxes[i].x : boxes[i].y);
      if (down) expect([b.y >= 1, b.y + b.height <= 16.0001]).toEqual([true, true]);
      else expect([b.x >= 2, b.x + b.width <= 54.0001]).toEqual([true, true]);
    }
  });
  test('edges and middles meet', () => {
    expect(after('left').map((b) => b.x)).toEqual([2, 2, 2]);
    expect(after('right').map((b) => b.x + b.width)).toEqual([54, 54, 54]);
    expect(after('centre').map((b) => b.x + b.width / 2)).toEqual([28, 28, 28]);
    expect(after('bottom').map((b) => b.y + b.height)).toEqual([16, 16, 16]);
  });
  test('gaps become even, the outermost stay', () => {
    const spread = after('spread-across').sort((a, b) => a.x - b.x);
    expect(spread[0].x).toBe(2);
    expect(spread[2].x + spread[2].width).toBe(54);
    expect(spread[1].x - spread[0].x - spread[0].width).toBeCloseTo(spread[2].x - spread[1].x - spread[1].width);
  });
});

describe('a moved thing is drawn', () => {
  const piece = { width: 90, height: 54 };
  test('to the edge of another, and says the line', () => {
    const { dx, guides } = snapped(boxes[0], 17.6, 0, [boxes[1]], piece, 3);
    expect(boxes[0].x + dx).toBeCloseTo(20);
    expect(guides).toContainEqual({ axis: 'x', at: 20 });
  });
  test('to the safe area and to the middle of the piece', () => {
    expect(boxes[0].x + snapped(boxes[0], 1.4, 0, [], piece, 3).dx).toBeCloseTo(3);
    expect(boxes[0].x + 5 + snapped(boxes[0], 37.7, 0, [], piece, 3).dx).toBeCloseTo(45);
  });
  test('to nothing that is further than a millimetre away', () => {
    expect(snapped(boxes[0], 8.3, 16.4, [], piece, 3)).toEqual({ dx: 8.3, dy: 16.4, guides: [] });
  });
});
