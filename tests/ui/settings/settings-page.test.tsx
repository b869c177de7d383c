import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { AddressesView, SettingsView } from '../../../src/contract';
import { keptKinds } from '../../../src/core/job/retention';
import { SettingsPage } from '../../../src/ui/features/settings/settings-page';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

let settings: SettingsView;
let addresses: AddressesView;
beforeEach(() => {
  settings = {
    doorPrivate: false,
    kinds: Object.fromEntries(
      keptKinds.map((kind) => [kind, { days: 90, bytes: kind === 'files' ? 3 * 2 ** 30 : 1000 }]),
    ) as SettingsView['kinds'],
    whole: { gb: 30, bytes: 5 * 2 ** 20 },
  };
  addresses = {
    base: 'http://localhost:3000',
    links: 'http://localhost:3000',
    own: false,
    from: 'machine',
    former: [],
  };
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function server(more: Parameters<typeof answering>[0] = {}): Asked[] {
  return answering({
    viewSettings: () => settings,
    changeSettings: () => settings,
    viewOurAddresses: () => addresses,
    viewMailServer: () => ({ server: null }),
    listConnections: () => ({
      connections: [
        {
          id: 3,
          name: 'Garden',
          host: 'db.marrambay.example',
          port: 5432,
          database: 'garden',
          username: 'reader',
        },
      ],
    }),
    ...more,
  });
}
const sent = (asked: Asked[], route: Asked['route']) => asked.filter((one) => one.route === route);
const choose = async (part: string, option: RegExp) => {
  await userEvent.click(await screen.findByRole('button', { name: new RegExp(part) }));
  await userEvent.click(await screen.findByRole('option', { name: option }));
};

test('a change says what it changes and nothing else, so that it undoes nobody else’s', async () => {
  const asked = server();
  show(<SettingsPage />);
  await choose('30 GB', /^100 GB/);
  await choose('public servers only', /in our own network/);
  await userEvent.click(await screen.findByTitle('How long to keep: Files of runs'));
  await userEvent.click(await screen.findByRole('option', { name: 'a week' }));
  await waitFor(() => expect(sent(asked, 'changeSettings')).toHaveLength(3));
  expect(sent(asked, 'changeSettings').map((one) => one.body)).toEqual([
    { wholeGb: 100 },
    { doorPrivate: true },
    { kept: { files: 7 } },
  ]);
});

test('what everything takes is said in sizes one reads, and a bound of one’s own stands in its order', async () => {
  server();
  show(<SettingsPage />);
  expect(await screen.findByText(/Storage: 5 MB/)).toBeTruthy();
  const row = screen.getByText('Files of runs').closest('tr')!;
  expect(within(row).getByText('3.0 GB')).toBeTruthy();
  expect(screen.getAllByText('under 1 MB')).toHaveLength(keptKinds.length - 1);
  await userEvent.click(screen.getByRole('button', { name: /30 GB/ }));
  const offered = await screen.findAllByRole('option');
  expect(offered.map((o) => o.textContent)).toEqual(
    [5, 10, 20, 30, 50, 100, 200, 500].map((gb) => `${gb} GB`),
  );
});

test('what was refused is told, and told no more once the next change is taken', async () => {
  let full = true;
  server({
    changeSettings: () =>
      full ? new Refused(409, 'There is more than that already: 20 GB.') : settings,
  });
  show(<SettingsPage />);
  await choose('30 GB', /^5 GB/);
  expect(await screen.findByText('There is more than that already: 20 GB.')).toBeTruthy();
  full = false;
  await choose('30 GB', /^50 GB/);
  await waitFor(() => expect(screen.queryByText(/more than that already/)).toBeNull());
});

test('another address is tried while it is typed, said with what it comes to, and sent alone', async () => {
  const asked = server({
    tryOurAddresses: () => ({
      printed: [
        { job: 4, name: 'Badges', records: 38, origin: 'http://localhost:3000' },
        { job: 5, name: 'Signs', records: 1200, origin: 'http://localhost:3000' },
      ],
      links: 1,
      pictures: 2,
    }),
    changeOurAddresses: () => {
      addresses = { ...addresses, base: 'https://stamp.marrambay.example', from: 'settings' };
      return addresses;
    },
  });
  show(<SettingsPage />);
  await userEvent.click(await screen.findByRole('button', { name: /localhost:3000/ }));
  const box = await screen.findByLabelText(/Address, such as/);
  const use = screen.getByRole('button', { name: 'Apply' });
  expect(use.hasAttribute('disabled')).toBe(true);
  await userEvent.type(box, 'https://stamp.marrambay.example/x');
  expect(await screen.findByText(/without a path/)).toBeTruthy();
  expect(use.hasAttribute('disabled')).toBe(true);
  await userEvent.type(box, '{Backspace}{Backspace}');
  expect(await screen.findByText(/1,238 printed codes carry the old address/)).toBeTruthy();
  expect(screen.getByText('Badges: 38, with http://localhost:3000')).toBeTruthy();
  expect(screen.getByText(/1 link will use the new address/)).toBeTruthy();
  expect(screen.getByText(/2 picture addresses were given out with/)).toBeTruthy();
  await userEvent.click(use);
  await waitFor(() => expect(sent(asked, 'changeOurAddresses')).toHaveLength(1));
  expect(sent(asked, 'changeOurAddresses')[0]!.body).toEqual({
    base: 'https://stamp.marrambay.example',
  });
  expect(await screen.findByRole('button', { name: /stamp\.marrambay/ })).toBeTruthy();
});

test('an address that strangers cannot open is told where it stands', async () => {
  addresses = { ...addresses, links: 'http://10.0.0.7', own: true };
  server();
  show(<SettingsPage />);
  expect(await screen.findByText(/localhost:3000 leads to/)).toBeTruthy();
  expect(await screen.findByText(/Codes with links use it/)).toBeTruthy();
});

test('an address that is said where it is started cannot be changed here', async () => {
  addresses = { ...addresses, base: 'https://stamp.marrambay.example', from: 'start' };
  server();
  show(<SettingsPage />);
  expect(await screen.findByText(/HAND_STAMP_URL/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /stamp\.marrambay/ })).toBeNull();
});

test('a connection is forgotten at once, and whoever only looks finds none of the controls', async () => {
  const asked = server({ forgetConnection: () => ({ ok: true as const }) });
  show(<SettingsPage />);
  await userEvent.click(await screen.findByRole('button', { name: 'Remove Garden' }));
  await waitFor(() => expect(sent(asked, 'forgetConnection')).toHaveLength(1));
  expect(sent(asked, 'forgetConnection')[0]!.params).toEqual({ id: '3' });
  cleanup();
  server();
  show(<SettingsPage />, 'viewer');
  expect(await screen.findByText('public servers only', { exact: false })).toBeTruthy();
  expect(screen.queryByRole('button')).toBeNull();
});
