import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { LinkCounts, ListSummary } from '../../../src/contract';
import { ListsPage } from '../../../src/ui/features/lists/lists-page';
import { answering, Refused, type Asked } from '../../helpers/answers';
import { show } from '../../helpers/page';

const gone = vi.hoisted(() => vi.fn<(to: string) => void>());
vi.mock('next/navigation', () => ({ useRouter: () => ({ push: gone }) }));

const volunteers: ListSummary = {
  id: 4,
  name: 'Volunteers',
  source: 'volunteers.xlsx',
  kind: 'file',
  records: 1820,
  problems: 3,
  revisions: 2,
  stamps: ['Door', 'Locker'],
  updated: '2026-11-28T09:00:00.000Z',
  jobs: [
    { id: 9, name: 'Badges' },
    { id: 10, name: 'Place cards' },
  ],
  checkpoints: ['North gate'],
  orders: [],
};
let lists: ListSummary[];
beforeEach(() => {
  lists = [volunteers];
  gone.mockReset();
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const counts: LinkCounts = {
  base: 'https://go.marrambay.example',
  all: 5,
  open: 5,
  notFound: 0,
  ending: 0,
  paused: 0,
  over: 0,
  printed: 0,
  unscanned: 0,
  alone: 0,
  scans: 0,
  week: 0,
  asking: null,
  asked: null,
  lists: [],
};
const server = (more: Parameters<typeof answering>[0] = {}) =>
  answering({
    listLists: () => ({ lists }),
    listShares: () => ({ shares: [], others: [] }),
    linkCounts: () => counts,
    removeList: () => ({ ok: true as const }),
    ...more,
  });
const sent = (asked: Asked[], route: Asked['route']) => asked.filter((one) => one.route === route);
const press = async (name: string | RegExp) =>
  userEvent.click(await screen.findByRole('button', { name }));
const change = async () => userEvent.click(await screen.findByTitle('Rename or delete Volunteers'));

test('a list stands with where it is from, how it stands and the jobs of it', async () => {
  server();
  show(<ListsPage />);
  const row = (await screen.findByRole('link', { name: 'Volunteers' })).closest('tr')!;
  expect(within(row).getByText('1,820')).toBeTruthy();
  expect(within(row).getByText('Door, Locker')).toBeTruthy();
  expect(
    within(row)
      .getAllByRole('link')
      .map((link) => link.getAttribute('href')),
  ).toEqual(['/jobs/9?band=records', '/jobs/9', '/jobs/10']);
});

test('without any, it is said how one begins; to whoever looks, that there is none to see', async () => {
  lists = [];
  server();
  show(<ListsPage />);
  expect(await screen.findByRole('link', { name: 'Bring in a spreadsheet' })).toBeTruthy();
  cleanup();
  server();
  show(<ListsPage />, 'viewer');
  expect(
    await screen.findByText('There is no list that you can see yet. Ask an administrator.'),
  ).toBeTruthy();
  expect(screen.queryByRole('link', { name: /Bring in/ })).toBeNull();
});

test('another job of a list is made and opened; what is refused stays to be mended', async () => {
  let refuses = true;
  const asked = server({
    addJob: () => (refuses ? new Refused(409, 'There is a job called Signs already.') : { id: 31 }),
  });
  show(<ListsPage />);
  await userEvent.click(await screen.findByTitle('New job for Volunteers'));
  const name = await screen.findByLabelText<HTMLInputElement>(/^New job with/);
  expect(screen.getByRole('button', { name: 'Create job' }).hasAttribute('disabled')).toBe(true);
  fireEvent.change(name, { target: { value: 'Signs' } });
  await press('Create job');
  expect(await screen.findByText('There is a job called Signs already.')).toBeTruthy();
  expect(name.value).toBe('Signs');
  refuses = false;
  await press('Create job');
  await waitFor(() => expect(gone).toHaveBeenCalledExactlyOnceWith('/jobs/31'));
  expect(sent(asked, 'addJob').map((one) => [one.params, one.body])).toEqual([
    [{ id: '4' }, { name: 'Signs' }],
    [{ id: '4' }, { name: 'Signs' }],
  ]);
});

test('a list is renamed, and the lists are asked for again', async () => {
  const asked = server({
    renameList: ({ body }) => {
      lists = [{ ...volunteers, name: (body as { name: string }).name }];
      return { ok: true as const };
    },
  });
  show(<ListsPage />);
  await change();
  fireEvent.change(await screen.findByLabelText('Name of this list'), {
    target: { value: 'Helpers' },
  });
  await press('Rename');
  expect(await screen.findByRole('link', { name: 'Helpers' })).toBeTruthy();
  expect(sent(asked, 'renameList')).toHaveLength(1);
});

test('before a list is thrown away it is said what goes with it, printed codes too', async () => {
  const asked = server({ linkCounts: () => ({ ...counts, printed: 38 }) });
  show(<ListsPage />);
  await change();
  await press('Delete this list …');
  expect(
    await screen.findByText(
      /This deletes 1,820 records, and the jobs Badges, Place cards with their runs and files\. These stop working: the checkpoint North gate\. 38 printed codes use its links and lead nowhere after that\. This cannot be undone\./,
    ),
  ).toBeTruthy();
  await press('Cancel');
  expect(sent(asked, 'removeList')).toHaveLength(0);
  await press('Delete this list …');
  await press('Delete permanently');
  await waitFor(() =>
    expect(sent(asked, 'removeList').map((one) => one.params)).toEqual([{ id: '4' }]),
  );
});

test('what could not be told of its links is said, and not passed over', async () => {
  server({ linkCounts: () => new Refused(503, 'Too much is asked at once.') });
  show(<ListsPage />);
  await change();
  await press('Delete this list …');
  expect(
    await screen.findByText(
      /It is not known whether printed codes use its links\. This cannot be undone/,
    ),
  ).toBeTruthy();
});

test('a list that cannot go now says why, and no longer once it is kept', async () => {
  server({ removeList: () => new Refused(409, 'A run of it is on its way. Stop it first.') });
  show(<ListsPage />);
  await change();
  await press('Delete this list …');
  await press('Delete permanently');
  expect(await screen.findByText(/A run of it is on its way/)).toBeTruthy();
  await press('Cancel');
  await press('Delete this list …');
  expect(screen.queryByText(/A run of it is on its way/)).toBeNull();
});
