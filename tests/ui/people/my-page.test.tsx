import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { SignInView } from '../../../src/contract';
import { MyPage } from '../../../src/ui/features/people/my-page';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const agent =
  'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/156.0 Safari/537.36';
const session = (id: string, here: boolean, said = agent) => ({
  id,
  agent: said,
  begun: '2026-11-27T09:00:00.000Z',
  used: '2026-11-28T09:00:00.000Z',
  here,
});
let view: SignInView;
beforeEach(
  () =>
    void (view = {
      sessions: [session('s-1', true), session('s-2', false, 'curl/8.0')],
      passkeys: [{ id: 'k-1', name: 'the phone', made: null }],
      secondFactor: false,
      passkeysHere: true,
    }),
);
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const done = { ok: true as const };
const server = (more: Parameters<typeof answering>[0] = {}) =>
  answering({
    viewSignIn: () => view,
    changePassword: () => done,
    endSession: () => done,
    endOtherSessions: () => done,
    removePasskey: () => done,
    ...more,
  });
const sent = (asked: Asked[], route: Asked['route']) => asked.filter((one) => one.route === route);
const type = (label: string | RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const press = async (name: string | RegExp) =>
  userEvent.click(await screen.findByRole('button', { name }));

test('who one is, and where one is signed in, in words that one knows again', async () => {
  server();
  const { container } = show(<MyPage />, 'viewer');
  expect(container.textContent).toContain(
    'You are Ida Fennel and sign in as ida@marrambay.example',
  );
  const rows = (await screen.findAllByRole('row')).map((row) => row.textContent ?? '');
  expect(rows[1]).toContain('Chrome, Linux (this browser)');
  expect(rows[2]).toContain('another program');
  // the one that is here is not ended by mistake
  expect(within(screen.getAllByRole('row')[1]!).queryByRole('button')).toBeNull();
});

test('a password is changed, and what was typed does not stay there', async () => {
  const asked = server();
  show(<MyPage />);
  type('Current password', 'old words for the bay');
  expect(
    (await screen.findByRole('button', { name: 'Change password' })).hasAttribute('disabled'),
  ).toBe(true);
  type(/^New password/, 'new words for the bay');
  await press('Change password');
  expect(await screen.findByText(/signed out everywhere else/)).toBeTruthy();
  expect(sent(asked, 'changePassword')[0]!.body).toEqual({
    now: 'old words for the bay',
    next: 'new words for the bay',
  });
  for (const label of ['Current password', /^New password/])
    expect(screen.getByLabelText<HTMLInputElement>(label).value).toBe('');
});

test('what is refused takes the place of what was said before, and the other way round', async () => {
  let refuses = false;
  server({
    endSession: () => (refuses ? new Refused(404, 'There is no such session.') : done),
  });
  show(<MyPage />);
  await press(/^Sign out (?!everywhere)/);
  expect((await screen.findByRole('status')).textContent).toBe('You are signed out there.');
  refuses = true;
  await press(/^Sign out (?!everywhere)/);
  expect((await screen.findByRole('alert')).textContent).toBe('There is no such session.');
  expect(screen.queryByRole('status')).toBeNull();
  refuses = false;
  await press(/^Sign out everywhere/);
  expect((await screen.findByRole('status')).textContent).toBe(
    'You are signed out everywhere else.',
  );
  expect(screen.queryByRole('alert')).toBeNull();
});

test('all others are ended where there are others only', async () => {
  view = { ...view, sessions: [session('s-1', true)] };
  server();
  show(<MyPage />);
  await screen.findByText(/\(this browser\)/);
  expect(screen.queryByRole('button', { name: /Sign out everywhere/ })).toBeNull();
});

test('a passkey is taken away by its name; where none can be kept, that is said', async () => {
  const asked = server();
  show(<MyPage />);
  await press('Remove passkey the phone');
  await waitFor(() =>
    expect(sent(asked, 'removePasskey').map((one) => one.params)).toEqual([{ id: 'k-1' }]),
  );
  cleanup();
  view = { ...view, passkeysHere: false };
  server();
  show(<MyPage />);
  expect(await screen.findByText(/need a web address with a name/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Add passkey' })).toBeNull();
});

test('a second factor begins with a code drawn here, and is in use once its app is right', async () => {
  let right = false;
  const asked = server({
    startSecondFactor: ({ body }) =>
      (body as { password: string }).password === 'words for the bay'
        ? {
            address: 'otpauth://totp/Hand%20Stamp:ida?secret=MARRAMBAY234&issuer=Hand%20Stamp',
            spares: ['DUNE-0001', 'DUNE-0002'],
          }
        : new Refused(403, 'That is not your password.'),
    confirmSecondFactor: () => {
      if (!right) return new Refused(400, 'That is not what the app shows now.');
      view = { ...view, secondFactor: true };
      return done;
    },
    stopSecondFactor: () => {
      view = { ...view, secondFactor: false };
      return done;
    },
  });
  show(<MyPage />);
  await screen.findByText(/Two-step sign-in is off/);
  type('Your password', 'something else');
  await press('Turn on');
  expect(await screen.findByText('That is not your password.')).toBeTruthy();
  type('Your password', 'words for the bay');
  await press('Turn on');
  expect(await screen.findByText('MARRAMBAY234')).toBeTruthy();
  const drawn = screen.getByRole('img', { name: 'Code for the app' });
  await waitFor(() => expect(drawn.querySelector('svg')).not.toBeNull());
  expect(screen.getByText('DUNE-0002')).toBeTruthy();
  type('The 6 digits in your app', '000000');
  await press('Confirm and turn on');
  expect(await screen.findByText('That is not what the app shows now.')).toBeTruthy();
  // the key and the spare codes stay until it is right
  expect(screen.getByText('DUNE-0001')).toBeTruthy();
  right = true;
  type('The 6 digits in your app', '123456');
  await press('Confirm and turn on');
  expect(await screen.findByText(/After your password you enter a code/)).toBeTruthy();
  expect(screen.queryByText('DUNE-0001')).toBeNull();
  type('Your password', 'words for the bay');
  await press('Turn off');
  await screen.findByText(/Two-step sign-in is off/);
  expect(screen.queryByText('DUNE-0001')).toBeNull();
  expect(sent(asked, 'confirmSecondFactor').map((one) => one.body)).toEqual([
    { code: '000000' },
    { code: '123456' },
  ]);
});
