import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { pieceSchema, type Piece, type PieceElement } from '../../../src/core/piece/model';
import { stockOf } from '../../../src/core/piece/stock';
import { ElementTools } from '../../../src/ui/features/piece/element-tools';
import { show } from '../../helpers/page';

const own = {
  id: 'own',
  name: '100 × 50 mm',
  page: { width: 210, height: 297 },
  columns: 1,
  rows: 1,
  piece: { width: 100, height: 50 },
  margin: { left: 10, top: 10 },
  pitch: { x: 100, y: 50 },
  cornerRadius: 0,
};
const box = (id: string, more: Partial<Extract<PieceElement, { kind: 'box' }>> = {}) => ({
  kind: 'box' as const,
  id,
  x: 10,
  y: 10,
  width: 20,
  height: 10,
  ...more,
});
const pieceOf = (...elements: PieceElement[]): Piece =>
  pieceSchema.parse({ stock: 'own', own, sides: 2, elements });

function tools(start: Piece, id: string, withBox = true) {
  const selected = vi.fn<(id: string | undefined) => void>();
  const with_ = vi.fn<(id: string) => void>();
  let now = start;
  function Held() {
    const [piece, setPiece] = useState(start);
    now = piece;
    const element = piece.elements.find((e) => e.id === id);
    return element ? (
      <ElementTools
        element={element}
        box={withBox ? { id, x: element.x, y: element.y, width: 20, height: 10 } : undefined}
        stock={stockOf(piece)}
        safe={3}
        piece={piece}
        onPiece={(next) => setPiece(pieceSchema.parse(next))}
        onSelect={selected}
        onWith={with_}
      />
    ) : null;
  }
  show(<Held />);
  return {
    selected,
    with_,
    ids: () => now.elements.map((e) => e.id).join(' '),
    at: (which = id) => {
      const { x, y } = now.elements.find((e) => e.id === which)!;
      return [x, y];
    },
    piece: () => now,
  };
}
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));
const off = (name: string) => screen.getByRole('button', { name }).hasAttribute('disabled');
afterEach(cleanup);

describe('a thing is moved', () => {
  test.each([
    ['to the left edge', [3, 10]],
    ['to the middle across', [40, 10]],
    ['to the right edge', [77, 10]],
    ['to the top', [10, 3]],
    ['to the middle down', [10, 20]],
    ['to the bottom', [10, 37]],
  ])('%s, by what it takes up', async (where, place) => {
    const { at } = tools(pieceOf(box('a'), box('b')), 'a');
    await userEvent.click(screen.getByTitle('Move to'));
    await userEvent.click(await screen.findByRole('option', { name: where }));
    expect(at()).toEqual(place);
    expect(at('b')).toEqual([10, 10]);
  });

  test('not while it is locked, nor where nobody knows what it takes up', async () => {
    tools(pieceOf(box('a', { locked: true })), 'a');
    expect(screen.queryByTitle('Move to')).toBeNull();
    await press('Unlock');
    expect(screen.getByTitle('Move to')).toBeTruthy();
    cleanup();
    tools(pieceOf(box('a')), 'a', false);
    expect(screen.queryByTitle('Move to')).toBeNull();
  });
});

describe('what lies over what', () => {
  test('goes by the things of its own side', async () => {
    const { ids } = tools(
      pieceOf(box('a'), box('x', { side: 'back' }), box('y', { side: 'back' }), box('b'), box('c')),
      'a',
    );
    expect(off('Move one layer down')).toBe(true);
    await press('Move one layer up');
    // over b at once, though two of the back come before it
    expect(ids()).toBe('x y b a c');
    await press('Move one layer up');
    expect(ids()).toBe('x y b c a');
    expect(off('Move one layer up')).toBe(true);
    await press('Move one layer down');
    await press('Move one layer down');
    expect(ids()).toBe('x y a b c');
    expect(off('Move one layer down')).toBe(true);
  });

  test('a thing that is alone on its side lies neither over nor under another', () => {
    tools(pieceOf(box('a'), box('x', { side: 'back' }), box('b')), 'x');
    expect(off('Move one layer up')).toBe(true);
    expect(off('Move one layer down')).toBe(true);
    expect(screen.queryByTitle('Select another element with it')).toBeNull();
  });
});

test('a copy stands a little beside it, is not locked, and is chosen', async () => {
  const { piece, selected } = tools(pieceOf(box('a', { locked: true, fill: '#ebe6f6' })), 'a');
  await press('Duplicate');
  const [first, copy] = piece().elements;
  expect(copy).toEqual({ ...first, id: copy!.id, x: 12, y: 12, locked: undefined });
  expect(copy!.id).not.toBe('a');
  expect(selected).toHaveBeenCalledExactlyOnceWith(copy!.id);
});

test('what is taken off is chosen no more', async () => {
  const { ids, selected } = tools(pieceOf(box('a'), box('b')), 'a');
  await press('Remove');
  expect(ids()).toBe('b');
  expect(selected).toHaveBeenCalledExactlyOnceWith(undefined);
});

test('another thing of the same side is chosen with it, told by where it stands', async () => {
  const { with_ } = tools(
    pieceOf(box('a'), box('b', { x: 33.5 }), box('x', { side: 'back' })),
    'a',
  );
  await userEvent.click(screen.getByTitle('Select another element with it'));
  const offered = await screen.findAllByRole('option');
  expect(offered.map((o) => o.textContent)).toEqual(['Box at 33.5, 10 mm']);
  await userEvent.click(offered[0]!);
  expect(with_).toHaveBeenCalledExactlyOnceWith('b');
});
