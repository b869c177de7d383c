import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import type { SharesView } from '../../../src/contract';
import { Sharing } from '../../../src/ui/kit/sharing';
import { answering, Refused } from '../../helpers/answers';
import { show } from '../../helpers/page';

const odd = { id: 'p-odd', name: 'Odd', email: 'odd@marrambay.example', right: 'scanner' as const };
const may = { id: 'p-may', name: 'May', email: 'may@marrambay.example', right: 'viewer' as const };
const none: SharesView = { shares: [], others: [odd, may] };
const withOdd: SharesView = {
  shares: [{ person: odd.id, name: odd.name, email: odd.email, right: 'viewer' }],
  others: [may],
};
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

test('a job is shared with someone to look, and no longer', async () => {
  const asked = answering({
    jobShares: () => none,
    shareJob: ({ body }) => ((body as { right: string | null }).right ? withOdd : none),
  });
  show(<Sharing of="job" id={9} />);
  expect(await screen.findByText(/Not shared with anyone/)).toBeTruthy();
  // whoever looks anyhow need not be let look
  expect(screen.queryByRole('button', { name: 'with May' })).toBeNull();
  await userEvent.click(screen.getByRole('button', { name: 'with Odd' }));
  await userEvent.click(await screen.findByRole('button', { name: 'Stop sharing with Odd' }));
  expect(await screen.findByText(/Not shared with anyone/)).toBeTruthy();
  expect(asked.filter((one) => one.route === 'shareJob')).toMatchObject([
    { params: { id: '9' }, body: { person: 'p-odd', right: 'viewer' } },
    { params: { id: '9' }, body: { person: 'p-odd', right: null } },
  ]);
});

test('a list is shared to change it, also with those who look anyhow', async () => {
  const asked = answering({ listShares: () => none, shareList: () => withOdd });
  show(<Sharing of="list" id={4} />);
  await userEvent.click(await screen.findByRole('button', { name: 'as an Editor' }));
  await userEvent.click(screen.getByRole('button', { name: 'with May' }));
  await waitFor(() =>
    expect(asked.at(-1)).toMatchObject({
      route: 'shareList',
      params: { id: '4' },
      body: { person: 'p-may', right: 'editor' },
    }),
  );
});

test('a refusal is told beside what stands, and goes with the next that is taken', async () => {
  let away = true;
  answering({
    jobShares: () => none,
    shareJob: () => (away ? new Refused(404, 'There is no such person here.') : withOdd),
  });
  show(<Sharing of="job" id={9} />);
  await userEvent.click(await screen.findByRole('button', { name: 'with Odd' }));
  expect((await screen.findByRole('alert')).textContent).toBe('There is no such person here.');
  expect(screen.getByText(/Not shared with anyone/)).toBeTruthy();
  away = false;
  await userEvent.click(screen.getByRole('button', { name: 'with Odd' }));
  await screen.findByText('Odd');
  expect(screen.queryByRole('alert')).toBeNull();
});

test('where it cannot be told with whom, that is said instead', async () => {
  answering({ jobShares: () => new Refused(403, 'Only whoever may change it sees that.') });
  show(<Sharing of="job" id={9} />);
  expect(await screen.findByText('Only whoever may change it sees that.')).toBeTruthy();
});
