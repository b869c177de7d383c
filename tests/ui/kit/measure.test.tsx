import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { Measure } from '../../../src/ui/kit/controls';

interface Of {
  step?: number;
  start?: number;
  digits?: number;
  min?: number;
  most?: number;
}

/** A measure of 4 to 300 whose value is kept, as every place that has one keeps it. */
function measure({ step, start = 10, digits, min = 4, most = 300 }: Of = {}) {
  const said = vi.fn<(value: number) => void>();
  function Held() {
    const [value, setValue] = useState(start);
    return (
      <Measure
        label="Width, mm"
        value={value}
        min={min}
        max={most}
        step={step}
        digits={digits}
        onChange={(next) => (setValue(next), said(next))}
      />
    );
  }
  render(<Held />);
  return { said, input: screen.getByLabelText<HTMLInputElement>('Width, mm') };
}
const type = async (input: HTMLElement, text: string) => {
  await userEvent.clear(input);
  await userEvent.type(input, text);
};
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

describe('a measure', () => {
  test.each([
    ['24.3', 24.3, '24.3'],
    ['24,3', 24.3, '24.3'],
    ['24,35', 24.35, '24.35'],
    ['22.861', 22.86, '22.86'],
    ['5', 5, '5'],
    // beyond what there is, it is the most and the least there is
    ['900', 300, '300'],
    ['1', 4, '4'],
  ])('typed as %s is %d, whatever its steps are', async (typed, value, shown) => {
    for (const step of [0.5, 0.1]) {
      const { said, input } = measure({ step });
      await type(input, `${typed}{Enter}`);
      expect(said).toHaveBeenCalledExactlyOnceWith(value);
      expect(input.value).toBe(shown);
      // nor is it told to be wrong for lying between two steps
      expect(input.getAttribute('aria-invalid')).not.toBe('true');
      expect(input.closest('[data-invalid]')).toBeNull();
      cleanup();
    }
  });

  test('is the same in a browser that speaks a language with decimal commas', async () => {
    vi.spyOn(navigator, 'language', 'get').mockReturnValue('de-DE');
    for (const typed of ['24.5', '24,5']) {
      const { said, input } = measure({ step: 0.5, start: 10.25 });
      expect(input.value).toBe('10.25');
      await type(input, `${typed}{Enter}`);
      expect(said).toHaveBeenCalledExactlyOnceWith(24.5);
      cleanup();
    }
  });

  test.each([
    ['7,25', 7.25],
    ['1,234.5', 300],
    ['12.5', 12.5],
  ])('pasted as %s is %d', async (text, value) => {
    const { said, input } = measure({ step: 0.5 });
    await userEvent.clear(input);
    await userEvent.click(input);
    await userEvent.paste(text);
    await userEvent.tab();
    expect(said).toHaveBeenCalledExactlyOnceWith(value);
  });

  test('a comma goes in where the caret stands, in place of what is marked', async () => {
    const { said, input } = measure({ step: 0.5, start: 245 });
    await userEvent.click(input);
    input.setSelectionRange(2, 2);
    await userEvent.keyboard(',{Enter}');
    expect(said).toHaveBeenCalledExactlyOnceWith(24.5);
  });

  test('keeps what it was where nothing or no number is typed', async () => {
    const { said, input } = measure({ step: 0.5 });
    await userEvent.clear(input);
    await userEvent.tab();
    expect(input.value).toBe('10');
    await type(input, 'wide{Enter}');
    expect(said).not.toHaveBeenCalled();
  });

  test('goes by its steps with the arrows', async () => {
    const { said, input } = measure({ step: 0.5 });
    await userEvent.click(input);
    await userEvent.keyboard('{ArrowUp}{ArrowUp}{ArrowDown}');
    expect(said.mock.calls.map(([value]) => value)).toEqual([10.5, 11, 10.5]);
  });

  test('one of whole steps counts in wholes', async () => {
    const { said, input } = measure({ step: 1, min: 1 });
    await type(input, '3.7{Enter}');
    expect(said).toHaveBeenCalledExactlyOnceWith(4);
    said.mockClear();
    await type(input, '6.2{ArrowUp}');
    expect(said).toHaveBeenCalledExactlyOnceWith(7);
  });

  test('among wholes a comma stands between thousands, typed or pasted', async () => {
    const typed = measure({ step: 1, min: 1, most: 20_000 });
    await type(typed.input, '1,200{Enter}');
    expect(typed.said).toHaveBeenCalledExactlyOnceWith(1200);
    cleanup();
    const pasted = measure({ step: 1, min: 1, most: 20_000 });
    await userEvent.clear(pasted.input);
    await userEvent.paste('1,200');
    await userEvent.tab();
    expect(pasted.said).toHaveBeenCalledExactlyOnceWith(1200);
  });
});
