import { cleanup, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { useTypedReader } from '../../../src/ui/features/checkpoint/typed-reader';

/** A page with a field, and a reader that types somewhere on it. */
function Page({ heard }: { heard: (text: string) => void }) {
  const [said, setSaid] = useState('');
  useTypedReader(heard);
  return <input aria-label="Note" value={said} onChange={(e) => setSaid(e.target.value)} />;
}

let now = 0;
/** A key event of a browser, some ms after the last one; it types where the focus is. */
function key(name: string, wait: number, more: Partial<KeyboardEvent> = {}): boolean {
  now += wait;
  vi.advanceTimersByTime(wait);
  const event = new KeyboardEvent('keydown', {
    key: name,
    bubbles: true,
    cancelable: true,
    ...more,
  });
  Object.defineProperty(event, 'timeStamp', { value: now });
  const target = document.activeElement ?? document.body;
  const goesOn = target.dispatchEvent(event);
  if (goesOn && name.length === 1 && target instanceof HTMLInputElement) {
    Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(
      target,
      target.value + name,
    );
    target.dispatchEvent(new Event('input', { bubbles: true }));
  }
  return goesOn;
}
const types = (text: string, wait: number) => Array.from(text).forEach((one) => key(one, wait));

function page() {
  const heard = vi.fn<(text: string) => void>();
  render(<Page heard={heard} />);
  return { heard, note: screen.getByLabelText<HTMLInputElement>('Note') };
}
beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

test('a reader is heard wherever the focus is, with Enter, with Tab and with neither', () => {
  for (const end of ['Enter', 'Tab', undefined]) {
    const { heard } = page();
    types('DH-0142', 8);
    if (end) expect(key(end, 8)).toBe(false);
    else vi.advanceTimersByTime(1000);
    expect(heard).toHaveBeenCalledExactlyOnceWith('DH-0142');
    cleanup();
  }
});

test('a machine that is busy does not cut a code in two where nobody types', () => {
  const { heard } = page();
  types('DH-', 8);
  key('0', 380);
  types('142', 8);
  key('Enter', 8);
  expect(heard).toHaveBeenCalledExactlyOnceWith('DH-0142');
});

test('what a reader types into a field is taken out of it again', () => {
  const { heard, note } = page();
  note.focus();
  types('left ', 200);
  expect(note.value).toBe('left ');
  key('D', 300);
  types('H-0142', 8);
  key('Enter', 8);
  expect(heard).toHaveBeenCalledExactlyOnceWith('DH-0142');
  expect(note.value).toBe('left ');
});

test('a hand that types is no reader, and its Enter stays its own', () => {
  const { heard, note } = page();
  note.focus();
  types('Ines Okafor', 120);
  expect(key('Enter', 120)).toBe(true);
  vi.advanceTimersByTime(2000);
  expect(heard).not.toHaveBeenCalled();
  expect(note.value).toBe('Ines Okafor');
});

test('two quick letters are no code, and capitals come with their Shift', () => {
  const { heard } = page();
  types('OK', 5);
  key('Enter', 5);
  vi.advanceTimersByTime(2000);
  expect(heard).not.toHaveBeenCalled();
  for (const one of 'DH7') {
    key('Shift', 4);
    key(one, 4);
  }
  key('Enter', 4);
  expect(heard).toHaveBeenCalledExactlyOnceWith('DH7');
});

test('the separator of GS1 codes is heard as readers type it; other shortcuts are none', () => {
  const { heard } = page();
  types('10AB', 6);
  key(']', 6, { ctrlKey: true });
  types('21C', 6);
  key('Enter', 6);
  expect(heard).toHaveBeenCalledExactlyOnceWith('10AB\u001d21C');
  heard.mockClear();
  types('abc', 6);
  key('c', 6, { ctrlKey: true });
  types('d', 6);
  key('Enter', 6);
  vi.advanceTimersByTime(2000);
  expect(heard).not.toHaveBeenCalled();
});
