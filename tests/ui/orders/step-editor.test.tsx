import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, test, vi } from 'vitest';
import { stepSchema, type OrderStep, type When } from '../../../src/core/orders/order';
import { StepEditor } from '../../../src/ui/features/orders/step-editor';
import type { Held } from '../../../src/ui/features/orders/use-order';

const columns = [
  { id: 'c1', name: 'No', role: 'key' },
  { id: 'c2', name: 'State', role: 'text' },
  {
    id: 'c3',
    name: 'Label',
    role: 'text',
    worked: { source: { kind: 'join', parts: [] }, steps: [] },
  },
];
const pdf = { kind: 'pdf', name: 'one PDF' };
const jobs = [
  {
    id: 11,
    name: 'Badges',
    list: 4,
    pdfs: false,
    stamps: [{ id: 'stamp-1', name: 'Code' }],
    outputs: [pdf, { kind: 'csv', name: 'a CSV' }],
  },
  {
    id: 12,
    name: 'Signs',
    list: 7,
    pdfs: true,
    stamps: [{ id: 'stamp-1', name: 'Sign' }],
    outputs: [{ kind: 'xlsx', name: 'a workbook' }],
  },
];

/** What the editor asks of an order that starts from a record of list 4, or from something else. */
const heldOf = (steps: OrderStep[], when: When): Held =>
  ({
    view: { document: { when, steps } },
    choices: {
      lists: [
        { id: 4, name: 'Volunteers', columns },
        { id: 7, name: 'Plants', columns: [{ id: 'c9', name: 'Whose' }] },
      ],
      jobs,
      printers: [{ id: 3, name: 'Desk' }],
    },
    columnsBefore: () => columns,
  }) as unknown as Held;

const record: When = { kind: 'record', list: 4, on: ['came'] };
function editor(
  steps: OrderStep[] = [],
  { at = 0, when = record }: { at?: number; when?: When } = {},
) {
  const used = vi.fn<(step: OrderStep) => void>();
  render(<StepEditor held={heldOf(steps, when)} at={at} onUse={used} />);
  return used;
}
const press = (role: 'option' | 'button' | 'checkbox', name: string | RegExp) =>
  userEvent.click(screen.getByRole(role, { name }));
afterEach(cleanup);

const words = [
  { kind: 'text' as const, text: 'It is ' },
  { kind: 'column' as const, column: 'c2' },
];
const every: OrderStep[] = [
  { kind: 'make', id: 'a', job: 12, output: 'xlsx', which: 'new' },
  { kind: 'make', id: 'a', job: 11, output: 'csv', which: 'record' },
  { kind: 'take', id: 'a', job: 12 },
  { kind: 'write', id: 'a', column: 'c2', parts: words },
  { kind: 'link', id: 'a', to: words },
  { kind: 'picture', id: 'a', job: 11, stamp: 'stamp-1' },
  { kind: 'mail', id: 'a', to: words, subject: words, text: words },
  { kind: 'out', id: 'a', folder: 'Badges' },
  { kind: 'print', id: 'a', printer: 3 },
  {
    kind: 'call',
    id: 'a',
    method: 'PUT',
    to: words,
    headers: [{ name: 'X-Token', value: 'sealed', secret: true }],
    fields: [{ name: 'state', parts: words }],
  },
  { kind: 'each', id: 'a', list: 7, column: 'c9', is: words },
];

test.each(every)('what stands there is used as it stands: $kind', async (step) => {
  expect(stepSchema.parse(step)).toEqual(step);
  const used = editor([step]);
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith(step);
});

describe('what a step may be', () => {
  const offered = () => screen.getAllByRole('option').map((option) => option.textContent);

  test('depends on what the order is about', () => {
    editor([]);
    expect(offered().join()).toMatch(/write a value into the record.*for each row/);
    expect(offered().join()).not.toMatch(/add the file/);
    cleanup();
    editor([], { when: { kind: 'document', folder: '', again: true, list: null } });
    expect(offered().join()).toMatch(/add the file/);
    expect(offered().join()).not.toMatch(
      /write a value into the record|for each row|picture of its code/,
    );
  });

  test('to stop has nothing to be said of it, and no step has the name of another', async () => {
    const used = editor([{ kind: 'out', id: 's0', folder: '' }], { at: 1 });
    await press('option', /stop here/);
    expect(used.mock.calls[0]![0]).toMatchObject({ kind: 'stop' });
    expect(used.mock.calls[0]![0].id).not.toBe('s0');
  });
});

test('for its record only a job of its list makes something', async () => {
  const used = editor([{ kind: 'make', id: 'a', job: 12, output: 'xlsx', which: 'ready' }]);
  await press('button', 'for its record');
  expect(screen.queryByRole('option', { name: 'Signs' })).toBeNull();
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    kind: 'make',
    id: 'a',
    job: 11,
    output: 'pdf',
    which: 'record',
  });
});

test('another job brings what it makes with it', async () => {
  const used = editor([{ kind: 'make', id: 'a', job: 11, output: 'csv', which: 'ready' }]);
  await press('option', 'Signs');
  await press('button', 'Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    kind: 'make',
    id: 'a',
    job: 12,
    output: 'xlsx',
    which: 'ready',
  });
});

test('a worked column is not written to, and what is not chosen is told', async () => {
  const used = editor([]);
  await press('option', /write a value into the record/);
  expect(screen.queryByRole('option', { name: 'Label' })).toBeNull();
  await press('button', 'Apply');
  expect(used).not.toHaveBeenCalled();
  expect(screen.getByRole('alert').textContent).toBe('Something is not chosen yet.');
  // as soon as something is chosen it is told no more
  await press('option', 'State');
  expect(screen.queryByRole('alert')).toBeNull();
});

test.each([
  ['Bad name', 'A header name may have letters, digits and hyphens.'],
  ['Content-Length', 'Hand Stamp sets this header itself. Remove it.'],
])('a header that cannot be sent is refused in its own words: %s', async (name, said) => {
  const used = editor([every.find((step) => step.kind === 'call')!]);
  await userEvent.clear(screen.getByLabelText('Header'));
  await userEvent.type(screen.getByLabelText('Header'), name);
  await press('button', 'Apply');
  expect(used).not.toHaveBeenCalled();
  expect(screen.getByRole('alert').textContent).toBe(said);
});

test('what a secret header holds is typed unseen, and a header that is left away is gone', async () => {
  const used = editor([every.find((step) => step.kind === 'call')!]);
  const held = screen.getByLabelText(/leave blank to keep/);
  expect(held.getAttribute('type')).toBe('password');
  await press('button', 'Remove this header');
  await press('button', 'Remove this value');
  await press('button', 'Apply');
  expect(used.mock.calls[0]![0]).toMatchObject({ headers: [], fields: [] });
});
