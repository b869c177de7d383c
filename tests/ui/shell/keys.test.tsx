import { cleanup, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import { keyChoice } from '../../../src/ui/kit/key-choice';
import type { InHand, JobScreenState } from '../../../src/ui/shell/ledger/context';
import { useKeys } from '../../../src/ui/shell/ledger/keys';
import { pulled, scroll } from '../../../src/ui/shell/ledger/scroll';

const doing = () => ({
  step: vi.fn(),
  setHand: vi.fn(),
  openBand: vi.fn(),
  openLoupe: vi.fn(),
  tick: vi.fn(),
  foldSentence: vi.fn(),
});
function screenOf(more: Partial<JobScreenState & InHand> = {}) {
  const done = doing();
  const search = { current: document.createElement('input') };
  document.body.replaceChildren(search.current);
  const state = { ...done, hand: 5, total: 200, ticked: new Set([9]), handRow: { id: 9 }, ...more };
  renderHook(() => useKeys(state as unknown as JobScreenState & InHand, search));
  return { ...done, search: search.current };
}
function press(key: string, more: KeyboardEventInit = {}, on: Element = document.body): boolean {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more });
  on.dispatchEvent(event);
  return event.defaultPrevented;
}
beforeEach(() => localStorage.clear());
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

describe('the keys of a job’s screen', () => {
  test.each([
    ['z', {}, 'undo'],
    ['Z', {}, 'undo'],
    ['Z', { shiftKey: true }, 'redo'],
    ['z', { shiftKey: true }, 'redo'],
    ['y', {}, 'redo'],
  ])('Control and %s with %j is %s', (key, more, way) => {
    for (const held of [{ ctrlKey: true }, { metaKey: true }]) {
      const { step } = screenOf();
      expect(press(key, { ...held, ...more })).toBe(true);
      expect(step).toHaveBeenCalledExactlyOnceWith(way);
      cleanup();
    }
  });

  test.each([
    ['ArrowDown', 6],
    ['ArrowUp', 4],
    ['PageDown', 17],
    ['PageUp', -7],
    ['Home', 0],
    ['End', 199],
  ])('%s goes on to another record', (key, hand) => {
    const { setHand } = screenOf();
    expect(press(key)).toBe(true);
    expect(setHand).toHaveBeenCalledExactlyOnceWith(hand);
  });

  test('a record in hand is ticked, and one that is ticked is ticked no more', () => {
    const ticked = screenOf();
    press('t');
    expect(ticked.tick).toHaveBeenCalledExactlyOnceWith([9], false);
    cleanup();
    const other = screenOf({ ticked: new Set() });
    press('t');
    expect(other.tick).toHaveBeenCalledExactlyOnceWith([9], true);
  });

  test('where something is typed they are letters', () => {
    const { search, foldSentence, setHand } = screenOf();
    expect(press('s', {}, search)).toBe(false);
    expect(press('ArrowDown', {}, search)).toBe(false);
    expect(foldSentence).not.toHaveBeenCalled();
    expect(setHand).not.toHaveBeenCalled();
  });

  test('single keys can be switched off, and then do what they do with Alt', () => {
    const { foldSentence, step, setHand } = screenOf();
    keyChoice.set(false);
    cleanup();
    const off = screenOf();
    expect(press('s')).toBe(false);
    expect(off.foldSentence).not.toHaveBeenCalled();
    expect(press('s', { altKey: true })).toBe(true);
    expect(off.foldSentence).toHaveBeenCalledOnce();
    // those that are no letters, and those with Control, stay
    press('ArrowDown');
    press('z', { ctrlKey: true });
    expect(off.setHand).toHaveBeenCalledOnce();
    expect(off.step).toHaveBeenCalledOnce();
    expect([foldSentence, step, setHand].every((one) => one.mock.calls.length === 0)).toBe(true);
    keyChoice.set(true);
  });

  test('what belongs to the browser is left to it', () => {
    screenOf();
    for (const key of ['r', 'c', 't', 's', '1']) expect(press(key, { ctrlKey: true })).toBe(false);
    expect(press('F5')).toBe(false);
  });
});

describe('widths of columns', () => {
  test('are kept for a list, within what can be pulled', () => {
    pulled.keep(4, 'c1', 90.4);
    pulled.keep(4, 'c2', 3);
    pulled.keep(4, 'c3', 99_999);
    expect(pulled.of(4)).toEqual({ c1: 90, c2: 56, c3: 720 });
    pulled.keep(4, 'c2', undefined);
    expect(pulled.of(4)).toEqual({ c1: 90, c3: 720 });
    expect(pulled.of(5)).toEqual({});
  });

  test('are the usual ones in a browser that keeps nothing, or keeps something else', () => {
    localStorage.setItem('hand-stamp widths of list 4', 'null');
    expect(pulled.of(4)).toEqual({});
    localStorage.setItem('hand-stamp widths of list 4', 'no JSON');
    expect(pulled.of(4)).toEqual({});
    const refuse = () => {
      throw new DOMException('denied', 'SecurityError');
    };
    vi.spyOn(Storage.prototype, 'getItem').mockImplementation(refuse);
    vi.spyOn(Storage.prototype, 'setItem').mockImplementation(refuse);
    expect(pulled.of(4)).toEqual({});
    expect(() => pulled.keep(4, 'c1', 90)).not.toThrow();
    expect(renderHook(() => pulled.use(4)).result.current).toBe('{}');
  });

  test('a column that is taken in hand comes into sight, and nothing is scrolled past the last', () => {
    scroll.setWidth(300);
    scroll.setWidths([100, 200, 150, 150]);
    scroll.take(3);
    expect(scroll.now()).toMatchObject({ cell: 3, x: 300 });
    scroll.take(0);
    expect(scroll.now().x).toBe(0);
    scroll.moveBy(10_000);
    expect(scroll.now().x).toBe(300);
    scroll.moveBy(-10_000);
    expect(scroll.now().x).toBe(0);
    // narrower columns leave no empty room at the right
    scroll.moveBy(10_000);
    scroll.setWidths([100, 100, 150]);
    expect(scroll.now().x).toBe(50);
  });
});
