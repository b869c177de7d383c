import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { takePresses } from '../../../src/ui/kit/early-hands';

let pressed: ReturnType<typeof vi.fn<() => void>>;
let button: HTMLButtonElement;
beforeEach(() => {
  vi.useFakeTimers();
  pressed = vi.fn<() => void>();
  button = document.body.appendChild(document.createElement('button'));
  button.addEventListener('click', () => pressed());
});
afterEach(() => {
  vi.useRealTimers();
  button.remove();
  delete window.handStampEarly;
});
const early = (ago: number, event = new Event('click')) => {
  window.handStampEarly = {
    taken: false,
    keys: [],
    pressed: { target: button, at: Date.now() - ago, event },
  };
};

test('what was pressed before the page listened is pressed once it does, once', () => {
  early(300);
  takePresses();
  expect(pressed).not.toHaveBeenCalled();
  vi.runAllTimers();
  expect(pressed).toHaveBeenCalledOnce();
  // a part of the page that comes later finds nothing more
  takePresses();
  vi.runAllTimers();
  expect(pressed).toHaveBeenCalledOnce();
  expect(window.handStampEarly!.hears).toBe(true);
});

test('what was pressed long ago, or is not there any more, is not', () => {
  early(10_001);
  takePresses();
  early(10);
  takePresses();
  button.remove();
  vi.runAllTimers();
  expect(pressed).not.toHaveBeenCalled();
});

test('a press by which the page came to listen reaches it by itself, and not twice', () => {
  document.addEventListener(
    'click',
    (event) => {
      early(0, event);
      takePresses();
    },
    { once: true, capture: true },
  );
  button.click();
  vi.runAllTimers();
  expect(pressed).toHaveBeenCalledOnce();
});

test('where nothing was pressed, and in a page without the script, it only listens', () => {
  takePresses();
  vi.runAllTimers();
  expect(window.handStampEarly).toMatchObject({ hears: true });
  expect(pressed).not.toHaveBeenCalled();
});
