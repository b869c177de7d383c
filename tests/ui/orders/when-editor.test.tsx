import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { orderSchema, type When, type WhenKind } from '../../../src/core/orders/order';
import type { Held } from '../../../src/ui/features/orders/use-order';
import { WhenEditor } from '../../../src/ui/features/orders/when-editor';

const lists = [
  { id: 4, name: 'Volunteers', columns: [{ id: 'c1', name: 'State' }] },
  { id: 7, name: 'Plants', columns: [{ id: 'c2', name: 'Bed' }] },
];

/** What the editor asks of an order: what it starts from now, and what there is to choose from. */
const heldOf = (when: When, more: object = {}): Held =>
  ({
    view: { document: { when }, call: { places: [['badge', 'DH-0142']] } },
    choices: { lists, folders: ['Mail'], checkpoints: [{ id: 2, name: 'North gate' }] },
    ...more,
  }) as unknown as Held;

function editor(when: When = { kind: 'hand', list: 4 }, more?: object) {
  const used = vi.fn<(when: When) => void>();
  render(<WhenEditor held={heldOf(when, more)} onUse={used} />);
  return used;
}
const press = (role: 'option' | 'button' | 'checkbox', name: string | RegExp) =>
  userEvent.click(screen.getByRole(role, { name }));
const use = () => screen.getByRole('button', { name: 'Apply' });
const change = async (kind: RegExp) => {
  await userEvent.click(screen.getByText('Start from something else'));
  await press('option', kind);
};
afterEach(cleanup);

const every: When[] = [
  { kind: 'record', list: 7, on: ['changed'] },
  { kind: 'reaches', list: 4, column: 'c1', value: 'withdrawn' },
  { kind: 'document', folder: 'Mail', again: false, list: null },
  { kind: 'call', list: 4, key: 'badge' },
  { kind: 'scan', of: 'checkpoint', checkpoint: 2, list: 4 },
  { kind: 'schedule', schedule: { kind: 'days', days: [6], at: '18:00', zone: 'Europe/London' } },
  {
    kind: 'schedule',
    schedule: { kind: 'month', nth: 0, day: 5, at: '07:30', zone: 'Europe/London' },
  },
  { kind: 'hand', list: 7 },
];

test.each(every)('what stands there is used as it stands: $kind', async (when) => {
  expect(orderSchema.shape.when.parse(when)).toEqual(when);
  const used = editor(when);
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith(when);
});

test.each([
  ['record', /a record is added, changed or deleted/],
  ['document', /a file arrives/],
  ['call', /a program calls/],
  ['scan', /a code is scanned/],
  ['schedule', /a scheduled time/],
] as [WhenKind, RegExp][])(
  'one that starts anew begins as what may be kept: %s',
  async (kind, name) => {
    const used = editor();
    await change(name);
    await press('button', 'Apply');
    const said = used.mock.calls[0]![0];
    expect(said.kind).toBe(kind);
    expect(orderSchema.shape.when.parse(said)).toEqual(said);
  },
);

test('a record with none of its moments starts nothing, and cannot be used', async () => {
  const used = editor({ kind: 'record', list: 4, on: ['came', 'went'] });
  await press('checkbox', 'when it is added');
  expect(use()).toHaveProperty('disabled', false);
  await press('checkbox', 'when it is deleted');
  expect(use()).toHaveProperty('disabled', true);
  await press('checkbox', 'when it changes');
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({ kind: 'record', list: 4, on: ['changed'] });
});

test('a column belongs to its list: with another list another one has to be chosen', async () => {
  const used = editor({ kind: 'reaches', list: 4, column: 'c1', value: 'here' });
  await press('option', 'Plants');
  expect(use()).toHaveProperty('disabled', true);
  expect(screen.queryByRole('option', { name: 'State' })).toBeNull();
  await press('option', 'Bed');
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    kind: 'reaches',
    list: 7,
    column: 'c2',
    value: 'here',
  });
});

test('without an In-tray, and before a first call, it says what to do', async () => {
  editor(
    { kind: 'document', folder: '', again: true, list: null },
    { choices: { lists, folders: null, checkpoints: [] } },
  );
  expect(screen.getByText(/no In-tray here/)).toBeTruthy();
  cleanup();
  editor(
    { kind: 'call', list: 4, key: '' },
    { view: { document: { when: { kind: 'call', list: 4, key: '' } } } },
  );
  expect(screen.getByText(/Call it once/)).toBeTruthy();
});

describe('a time', () => {
  const daily: When = {
    kind: 'schedule',
    schedule: { kind: 'days', days: [1, 3], at: '07:30', zone: 'Europe/London' },
  };

  test('keeps its days in their order', async () => {
    const used = editor(daily);
    await press('checkbox', 'Tue');
    await press('checkbox', 'Mon');
    await press('button', 'Apply');
    expect(used).toHaveBeenCalledExactlyOnceWith({
      kind: 'schedule',
      schedule: { kind: 'days', days: [2, 3], at: '07:30', zone: 'Europe/London' },
    });
  });

  test('keeps its hour and its zone when it is to come once a month', async () => {
    const used = editor(daily);
    await press('button', 'once a month');
    await press('button', 'last');
    await press('button', 'Fri');
    await press('button', 'Apply');
    expect(used).toHaveBeenCalledExactlyOnceWith({
      kind: 'schedule',
      schedule: { kind: 'month', nth: 0, day: 5, at: '07:30', zone: 'Europe/London' },
    });
  });

  test.each([
    ['Time there (07:30)', '25:10', 'Enter the time as hours and minutes: 07:30.'],
    ['Time there (07:30)', '7', 'Enter the time as hours and minutes: 07:30.'],
    ['Time zone (Europe/London)', 'Marram Bay', 'This time zone is not known. Choose another.'],
  ])('%s with %j is refused while it is typed', async (label, typed, words) => {
    const used = editor(daily);
    await userEvent.clear(screen.getByLabelText(label));
    await userEvent.type(screen.getByLabelText(label), typed);
    expect(screen.getByRole('status').textContent).toBe(words);
    expect(use()).toHaveProperty('disabled', true);
    expect(used).not.toHaveBeenCalled();
  });

  test('on no day at all is refused', async () => {
    editor(daily);
    await press('checkbox', 'Mon');
    await press('checkbox', 'Wed');
    expect(screen.getByRole('status').textContent).toBe('Choose a day of the week.');
    expect(use()).toHaveProperty('disabled', true);
  });
});
