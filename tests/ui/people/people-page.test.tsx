import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { PeopleView } from '../../../src/contract';
import { PeoplePage } from '../../../src/ui/features/people/people-page';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const person = (id: string, name: string, more: Partial<PeopleView['people'][number]> = {}) => ({
  id,
  name,
  email: `${name.split(' ')[0]!.toLowerCase()}@marrambay.example`,
  right: 'editor' as const,
  ended: false,
  secondFactor: false,
  seen: null,
  ...more,
});
let view: PeopleView;
beforeEach(() => {
  view = {
    people: [
      person('p-ida', 'Ida Fennel', { right: 'administrator', secondFactor: true }),
      person('p-odd', 'Odd Larsen-Mbeki'),
      person('p-gone', 'Pia Sorrel', { ended: true }),
    ],
    invited: [
      {
        id: 'ab'.repeat(32),
        name: 'Theo Quill',
        email: 'theo@marrambay.example',
        right: 'viewer',
        by: 'Ida Fennel',
        until: '2026-12-01T09:00:00.000Z',
      },
    ],
  };
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const server = (more: Parameters<typeof answering>[0] = {}) =>
  answering({
    listPeople: () => view,
    changePerson: () => ({ ok: true as const }),
    takeBackInvitation: () => ({ ok: true as const }),
    ...more,
  });
const sent = (asked: Asked[], route: Asked['route']) => asked.filter((one) => one.route === route);

test('who is here, who is invited and who was here stand apart', async () => {
  server();
  show(<PeoplePage />);
  const ida = (await screen.findByText('Ida Fennel', { selector: 'b' })).closest('tr')!;
  expect(ida.textContent).toContain('(you)');
  expect(within(ida).getByText('On')).toBeTruthy();
  const [here, invited, gone] = screen.getAllByRole('table');
  expect(within(here!).queryByText('Pia Sorrel')).toBeNull();
  expect(within(invited!).getByText('Theo Quill')).toBeTruthy();
  expect(within(gone!).getByText('Pia Sorrel')).toBeTruthy();
});

test('what someone may is changed in its row; a refusal is told and the row is asked for again', async () => {
  const asked = server({
    changePerson: () => new Refused(409, 'Somebody has to keep this Hand Stamp.'),
  });
  show(<PeoplePage />);
  await userEvent.click(await screen.findByTitle('Role of Ida Fennel'));
  await userEvent.click(await screen.findByRole('option', { name: /^Viewer/i }));
  expect((await screen.findByRole('alert')).textContent).toBe(
    'Somebody has to keep this Hand Stamp.',
  );
  expect(sent(asked, 'changePerson')[0]).toMatchObject({
    params: { id: 'p-ida' },
    body: { right: 'viewer' },
  });
  await waitFor(() => expect(sent(asked, 'listPeople').length).toBeGreaterThan(1));
});

test('that someone is one of us no more is asked about first, and can be taken back', async () => {
  const asked = server();
  show(<PeoplePage />);
  await userEvent.click(await screen.findByTitle(/^Change Odd Larsen-Mbeki/));
  await userEvent.click(await screen.findByRole('button', { name: /^Deactivate .* …/ }));
  expect(screen.getByText(/is signed out everywhere and can no longer sign in/)).toBeTruthy();
  await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  expect(sent(asked, 'changePerson')).toHaveLength(0);
  await userEvent.click(screen.getByRole('button', { name: /^Deactivate .* …/ }));
  await userEvent.click(screen.getByRole('button', { name: 'Deactivate' }));
  await waitFor(() => expect(sent(asked, 'changePerson')).toHaveLength(1));
  expect(sent(asked, 'changePerson')[0]).toMatchObject({
    params: { id: 'p-odd' },
    body: { ended: true },
  });
  await userEvent.click(await screen.findByRole('button', { name: 'Reactivate Pia Sorrel' }));
  await waitFor(() => expect(sent(asked, 'changePerson')).toHaveLength(2));
  expect(sent(asked, 'changePerson')[1]).toMatchObject({
    params: { id: 'p-gone' },
    body: { ended: false },
  });
});

test('an invitation is sent once, however often it is pressed, and its address is told this one time', async () => {
  let answer: (() => void) | undefined;
  const asked = server({
    invite: () => ({
      address: 'https://stamp.marrambay.example/welcome/tok-1',
      mailed: false,
    }),
  });
  const plain = globalThis.fetch;
  vi.stubGlobal('fetch', async (address: string, request?: RequestInit) => {
    const done = plain(address, request);
    if (request?.method === 'POST') await new Promise<void>((go) => (answer = go));
    return done;
  });
  show(<PeoplePage />);
  const invite = await screen.findByRole('button', { name: 'Invite person' });
  expect(invite.hasAttribute('disabled')).toBe(true);
  await userEvent.type(screen.getByLabelText('Their name'), 'Nils Otter');
  await userEvent.type(screen.getByLabelText('Their email address'), 'nils@marrambay.example');
  await userEvent.click(screen.getByRole('checkbox', { name: /by email/ }));
  await userEvent.click(invite);
  await userEvent.type(screen.getByLabelText('Their name'), '{Enter}');
  expect(sent(asked, 'invite').map((one) => one.body)).toEqual([
    { name: 'Nils Otter', email: 'nils@marrambay.example', right: 'viewer', mail: false },
  ]);
  answer!();
  const told = await screen.findByRole('status');
  expect(told.textContent).toContain('Give this link to Nils Otter only. It works once');
  expect(told.textContent).toContain('https://stamp.marrambay.example/welcome/tok-1');
  expect(screen.getByLabelText<HTMLInputElement>('Their name').value).toBe('');
  await userEvent.click(within(told).getByRole('button', { name: 'Close' }));
  expect(screen.queryByText(/welcome\/tok-1/)).toBeNull();
});

test('an invitation that is refused keeps what was typed', async () => {
  server({ invite: () => new Refused(409, 'Theo Quill is invited already.') });
  show(<PeoplePage />);
  await userEvent.type(await screen.findByLabelText('Their name'), 'Theo Quill');
  await userEvent.type(screen.getByLabelText('Their email address'), 'theo@marrambay.example');
  await userEvent.click(screen.getByRole('button', { name: 'Invite person' }));
  expect((await screen.findByRole('alert')).textContent).toBe('Theo Quill is invited already.');
  expect(screen.getByLabelText<HTMLInputElement>('Their name').value).toBe('Theo Quill');
});

test('an invitation is taken back by its number, which opens nothing', async () => {
  const asked = server();
  show(<PeoplePage />);
  await userEvent.click(
    await screen.findByRole('button', { name: 'Cancel invitation of Theo Quill' }),
  );
  await waitFor(() =>
    expect(sent(asked, 'takeBackInvitation').map((one) => one.params)).toEqual([
      { id: 'ab'.repeat(32) },
    ]),
  );
});
