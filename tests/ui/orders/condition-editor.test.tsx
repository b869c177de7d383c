import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import type { Condition } from '../../../src/core/orders/conditions';
import type { Order } from '../../../src/core/orders/order';
import { ConditionEditor } from '../../../src/ui/features/orders/condition-editor';
import type { Held } from '../../../src/ui/features/orders/use-order';

/** What the editor asks of an order: from what it starts, and the columns there are. */
const heldOf = (kind: Order['when']['kind']): Held =>
  ({
    view: { document: { when: { kind } } },
    columnsBefore: () => [
      { id: 'c1', name: 'No', role: 'key' },
      { id: 'c2', name: 'Shift', role: 'text' },
    ],
  }) as unknown as Held;
const editor = (condition?: Condition, kind: Order['when']['kind'] = 'record') => {
  const used = vi.fn<(condition: Condition) => void>();
  render(<ConditionEditor held={heldOf(kind)} condition={condition} onUse={used} />);
  return used;
};
const press = (role: 'option' | 'button', name: string | RegExp) =>
  userEvent.click(screen.getByRole(role, { name }));
afterEach(cleanup);

test('a condition about a column is said step by step, and only then can be used', async () => {
  const used = editor();
  await press('option', 'the value of a column');
  const use = () => screen.getByRole('button', { name: 'Apply' });
  expect(use()).toHaveProperty('disabled', true);
  await press('option', 'Shift');
  // a value is asked for only where the comparison wants one
  expect(screen.queryByLabelText('Value')).toBeNull();
  await press('option', 'begins with');
  await userEvent.type(screen.getByLabelText('Value'), ' Sat ');
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    of: 'column',
    column: 'c2',
    is: 'begins',
    value: 'Sat',
  });
});

test('what needs nothing more is used by being chosen', async () => {
  const used = editor();
  await press('option', 'whether its stamps fit');
  expect(used).toHaveBeenCalledExactlyOnceWith({ of: 'fits' });
});

test('what only files have is asked only of files', () => {
  editor();
  expect(screen.queryByRole('option', { name: 'how many pages it has' })).toBeNull();
  cleanup();
  editor(undefined, 'document');
  expect(screen.getByRole('option', { name: 'how many pages it has' })).toBeTruthy();
});

test('megabytes are taken with a comma too, and kept in bytes; what is no number is not taken', async () => {
  const used = editor(undefined, 'document');
  await press('option', 'how large it is');
  const megabytes = screen.getByLabelText('Megabytes');
  await userEvent.type(megabytes, 'two');
  expect(screen.getByRole('button', { name: 'Apply' })).toHaveProperty('disabled', true);
  await userEvent.clear(megabytes);
  await userEvent.type(megabytes, '2,5');
  await press('option', 'more than');
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({ of: 'bytes', is: 'more', value: 2_500_000 });
});

test('one that is changed begins as it was said, by the keyboard alone', async () => {
  const used = editor({ of: 'column', column: 'c2', is: 'is', value: 'Sun' });
  const value = screen.getByLabelText('Value');
  expect(value).toHaveProperty('value', 'Sun');
  value.focus();
  await userEvent.keyboard('day{Tab}{Enter}');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    of: 'column',
    column: 'c2',
    is: 'is',
    value: 'Sunday',
  });
});
