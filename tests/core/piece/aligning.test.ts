import { describe, expect, test } from 'vitest';
import { aligned, alignments, type ElementBoxMm } from '../../../src/core/piece/aligning';
import { gripsOf, pulled, withBox, type Grip } from '../../../src/core/piece/resizing';
import type { PieceElement } from '../../../src/core/piece/model';
import { snapped } from '../../../src/core/piece/snapping';

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
  test.each(alignments.map((a) => a.id))(
    '%s moves them in one direction only, within the room they took',
    (how) => {
      const down = ['top', 'middle', 'bottom', 'spread-down'].includes(how);
      for (const [i, b] of after(how).entries()) {
        expect(down ? b.x : b.y).toBe(down ? boxes[i]!.x : boxes[i]!.y);
        if (down) expect([b.y >= 1, b.y + b.height <= 16.0001]).toEqual([true, true]);
        else expect([b.x >= 2, b.x + b.width <= 54.0001]).toEqual([true, true]);
      }
    },
  );
  test('edges and middles meet', () => {
    expect(after('left').map((b) => b.x)).toEqual([2, 2, 2]);
    expect(after('right').map((b) => b.x + b.width)).toEqual([54, 54, 54]);
    expect(after('centre').map((b) => b.x + b.width / 2)).toEqual([28, 28, 28]);
    expect(after('bottom').map((b) => b.y + b.height)).toEqual([16, 16, 16]);
  });
  test('gaps become even, the outermost stay', () => {
    const spread = after('spread-across').sort((a, b) => a.x - b.x);
    expect(spread[0]!.x).toBe(2);
    expect(spread[2]!.x + spread[2]!.width).toBe(54);
    expect(spread[1]!.x - spread[0]!.x - spread[0]!.width).toBeCloseTo(
      spread[2]!.x - spread[1]!.x - spread[1]!.width,
    );
  });
});

describe('a moved thing is drawn', () => {
  const piece = { width: 90, height: 54 };
  test('to the edge of another, and says the line', () => {
    const { dx, guides } = snapped(boxes[0]!, 17.6, 0, [boxes[1]!], piece, 3);
    expect(boxes[0]!.x + dx).toBeCloseTo(20);
    expect(guides).toContainEqual({ axis: 'x', at: 20 });
  });
  test('to the safe area and to the middle of the piece', () => {
    expect(boxes[0]!.x + snapped(boxes[0]!, 1.4, 0, [], piece, 3).dx).toBeCloseTo(3);
    expect(boxes[0]!.x + 5 + snapped(boxes[0]!, 37.7, 0, [], piece, 3).dx).toBeCloseTo(45);
  });
  test('to nothing that is further than a millimetre away', () => {
    expect(snapped(boxes[0]!, 8.3, 16.4, [], piece, 3)).toEqual({ dx: 8.3, dy: 16.4, guides: [] });
  });
});

describe('a thing pulled by a grip', () => {
  const around = { others: [boxes[1]!], piece: { width: 90, height: 54 }, safe: 3, draws: true };
  const box = boxes[2]!;
  const ends = (b: ElementBoxMm) => ({
    left: b.x,
    top: b.y,
    right: b.x + b.width,
    bottom: b.y + b.height,
  });

  test.each([
    'top-left',
    'top-right',
    'bottom-left',
    'bottom-right',
    'left',
    'right',
    'top',
    'bottom',
  ] satisfies Grip[])(
    '%s: what was not pulled stays, and nothing becomes less than nothing',
    (grip) => {
      for (const [dx, dy] of [
        [-3.3, 5.2],
        [100, 100],
        [-100, -100],
      ]) {
        const after = ends(pulled(box, grip, dx!, dy!, { ...around, draws: false }).box);
        for (const edge of ['left', 'top', 'right', 'bottom'] as const)
          if (!grip.includes(edge)) expect(after[edge]).toBeCloseTo(ends(box)[edge]);
        expect(after.right - after.left).toBeGreaterThan(0);
        expect(after.bottom - after.top).toBeGreaterThan(0);
      }
    },
  );
  test('an edge is drawn to that of another, and says the line', () => {
    const { box: after, guides } = pulled(box, 'left', -13.6, 0, around);
    expect(after.x).toBeCloseTo(26);
    expect(guides).toEqual([{ axis: 'x', at: 26 }]);
  });
  test('a code keeps its proportion whichever way it is pulled, its opposite corner in place', () => {
    const code = { id: 'code', x: 30, y: 20, width: 20, height: 10 };
    for (const [dx, dy] of [
      [6, 0],
      [0, 6],
      [-4, -1],
    ]) {
      const { box: after } = pulled(code, 'top-left', dx!, dy!, { ...around, draws: false }, true);
      expect(after.width / after.height).toBeCloseTo(2);
      expect([after.x + after.width, after.y + after.height]).toEqual([50, 30]);
    }
  });
  test('becomes what its kind allows: words another width, a code another size about its middle', () => {
    const at = { id: 'a', x: 10, y: 10 };
    const words: PieceElement = {
      ...at,
      kind: 'text',
      parts: [],
      font: 'atkinson',
      sizePt: 10,
      minPt: 8,
      lines: 1,
      width: 30,
      align: 'left',
      colour: '#000000',
    };
    const wide = { ...at, width: 30, height: 4 };
    expect(withBox(words, wide, { ...wide, x: 5, width: 35 })).toEqual({
      ...words,
      x: 5,
      width: 35,
    });
    // a barcode is lower than its square and lies in the middle of it
    const code: PieceElement = { ...at, kind: 'stamp', stamp: 's', sizeMm: 40 };
    const bars = { id: 'a', x: 10, y: 22, width: 40, height: 16 };
    const larger = withBox(code, bars, { ...bars, width: 50, height: 20 });
    expect(larger).toMatchObject({ sizeMm: 50, x: 10, y: 7 });
    expect(gripsOf(words)).toEqual(['left', 'right']);
    expect(gripsOf({ ...code, locked: true })).toEqual([]);
    expect(gripsOf({ ...at, kind: 'rule', width: 0.3, height: 30, colour: '#000000' })).toEqual([
      'top',
      'bottom',
    ]);
  });
});
