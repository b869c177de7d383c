import { cleanup, fireEvent, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { LinkChange } from '../../../src/contract';
import { newLinkCode } from '../../../src/core/links/code';
import type { Leads } from '../../../src/core/links/leading';
import { LeadsEditor, PeekPart, SpanEditor } from '../../../src/ui/features/links/rule-parts';
import { answering } from '../../helpers/answers';
import { show } from '../../helpers/page';

beforeEach(
  () =>
    void answering({
      viewOurAddresses: () => ({
        base: 'https://stamp.marrambay.example',
        links: 'https://go.marrambay.example',
        own: true,
        from: 'settings',
        former: ['http://old.marrambay.example'],
      }),
    }),
);
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
let at = 0;
const code = newLinkCode('anyone', (most) => (at += 5) % most);
const to = (text: string): Leads => ({ parts: [{ kind: 'text', text }] });
const disabled = (name: string) => screen.getByRole('button', { name }).hasAttribute('disabled');

function leads(now: Leads | null, column?: string) {
  const used = vi.fn<(leads: Leads | null) => void>();
  show(<LeadsEditor now={now} column={column} onUse={used} />);
  return { used, box: screen.getByLabelText<HTMLInputElement>('Web address it leads to') };
}

test('links are pointed at an address, without what stands around it', async () => {
  const { used, box } = leads(null);
  expect(disabled('Change address')).toBe(true);
  await userEvent.type(box, '  https://marrambay.example/visit ');
  await userEvent.click(screen.getByRole('button', { name: 'Change address' }));
  expect(used).toHaveBeenCalledExactlyOnceWith(to('https://marrambay.example/visit'));
});

test.each([
  ['(no email address)', 'ask at the desk'],
  ['a script', 'javascript:alert(1)'],
  ['a short link', `https://go.marrambay.example/${code}`],
  ['one under a name of before', `http://old.marrambay.example/${code}`],
])('what cannot be led to is told and not taken: %s', async (_, address) => {
  const { used, box } = leads(null);
  // our own names are known a moment later
  await screen.findByText(/Takes effect at once/);
  fireEvent.change(box, { target: { value: address } });
  await vi.waitFor(() => expect(disabled('Change address')).toBe(true));
  await userEvent.type(box, '{Enter}');
  expect(used).not.toHaveBeenCalled();
  expect(screen.queryByText(/Takes effect at once/)).toBeNull();
});

test('one that was pointed elsewhere can follow its column again; one that follows cannot', async () => {
  const { used } = leads(to('https://marrambay.example/other'), 'Page');
  await userEvent.click(screen.getByRole('button', { name: 'Follow Page again' }));
  expect(used).toHaveBeenCalledExactlyOnceWith(null);
  cleanup();
  leads(null, 'Page');
  expect(screen.queryByRole('button', { name: /Follow/ })).toBeNull();
});

test('what is made of columns does not stand there as if it were text', () => {
  const { box } = leads({
    parts: [
      { kind: 'text', text: 'https://marrambay.example/' },
      { kind: 'column', column: 'c1' },
    ],
  });
  expect(box.value).toBe('');
});

const open = { state: 'open', opens: null, ends: null, after: null } as const;
function span(now: Parameters<typeof SpanEditor>[0]['now']) {
  const used = vi.fn<(change: LinkChange) => void>();
  show(<SpanEditor now={now} onUse={used} />);
  return used;
}
const day = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));

test('from a day until a day, and then elsewhere', async () => {
  const used = span(open);
  day('From this day', '2027-05-01');
  expect(screen.queryByLabelText(/After that, lead to/)).toBeNull();
  day('Until this day', '2027-05-09');
  await userEvent.type(
    screen.getByLabelText(/After that, lead to/),
    'https://marrambay.example/thanks',
  );
  await press('Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    state: 'open',
    opens: '2027-05-01',
    ends: '2027-05-09',
    after: 'https://marrambay.example/thanks',
  });
});

test('without a last day there is nothing it leads to afterwards', async () => {
  const used = span({
    ...open,
    opens: '2027-05-01',
    ends: '2027-05-09',
    after: 'https://marrambay.example/thanks',
  });
  day('Until this day', '');
  await press('Apply');
  expect(used).toHaveBeenCalledExactlyOnceWith({
    state: 'open',
    opens: '2027-05-01',
    ends: null,
    after: null,
  });
});

test('days the wrong way round, and an address that is none, are told', async () => {
  span(open);
  day('From this day', '2027-05-09');
  day('Until this day', '2027-05-01');
  expect(screen.getByText(/It would end before it begins/)).toBeTruthy();
  expect(disabled('Apply')).toBe(true);
  day('From this day', '2027-05-01');
  // one day long is a day
  expect(disabled('Apply')).toBe(false);
  await userEvent.type(screen.getByLabelText(/After that, lead to/), 'the desk');
  expect(disabled('Apply')).toBe(true);
  // what does not matter any more holds up nothing
  await press('is paused');
  expect(disabled('Apply')).toBe(false);
});

test('paused and withdrawn say what whoever scans it reads; for ever is said twice', async () => {
  const used = span(open);
  await press('is paused');
  expect(screen.getByText(/read that it is paused/)).toBeTruthy();
  await press('Apply');
  expect(used).toHaveBeenLastCalledWith({ state: 'paused' });
  await press('is permanently withdrawn');
  expect(screen.getByText(/cannot undo this/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Apply' })).toBeNull();
  await press('Withdraw link permanently');
  expect(used).toHaveBeenLastCalledWith({ state: 'withdrawn' });
});

test('whether whoever scans it sees first where it goes', async () => {
  const used = vi.fn<(peeks: boolean) => void>();
  show(<PeekPart peeks={false} onUse={used} />);
  await userEvent.click(screen.getByTitle('What people see after a scan'));
  await userEvent.click(await screen.findByRole('option', { name: /^see first where it leads/ }));
  expect(used).toHaveBeenCalledExactlyOnceWith(true);
});
