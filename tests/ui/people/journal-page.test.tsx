import { cleanup, fireEvent, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, expect, test, vi } from 'vitest';
import type { JournalLine } from '../../../src/contract';
import { JournalPage } from '../../../src/ui/features/people/journal-page';
import { answering, Refused } from '../../helpers/answers';
import { show } from '../../helpers/page';

const line = (id: number, more: Partial<JournalLine> = {}): JournalLine => ({
  id,
  at: '2026-11-28T09:00:00.000Z',
  who: 'Ida Fennel',
  what: 'Starts a run.',
  about: 'Badges',
  list: null,
  job: 9,
  request: `q-${id}`,
  outcome: 'done',
  ...more,
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const type = (label: string | RegExp, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const file = () => screen.getByRole('link', { name: /Download log/ }).getAttribute('href');

test('who did what, about what, how it came out, and under which number it is found', async () => {
  answering({
    viewJournal: () => ({
      lines: [
        line(3),
        line(2, { job: null, about: 'https://stamp.marrambay.example', outcome: 'failed' }),
        line(1, { about: '', outcome: null }),
      ],
      more: false,
    }),
  });
  show(<JournalPage />);
  await screen.findByText('q-3');
  const rows = screen
    .getAllByRole('row')
    .slice(1)
    .map((row) => row.textContent);
  expect(rows[0]).toContain('Ida FennelStarts a runBadgesdoneq-3');
  expect(rows[1]).toContain('https://stamp.marrambay.examplefailed');
  expect(rows[2]).toContain('a jobunknown');
  // only what belongs to a job leads there
  expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
    '/api/journal/file',
    '/jobs/9',
    '/jobs/9',
  ]);
  expect(screen.queryByRole('button', { name: 'Show earlier entries' })).toBeNull();
});

test('earlier ones are asked for from where the last ends, and stand behind it', async () => {
  const asked = answering({
    viewJournal: ({ query }) =>
      query.before === undefined
        ? { lines: [line(30), line(29)], more: true }
        : { lines: [line(7)], more: false },
  });
  show(<JournalPage />);
  await userEvent.click(await screen.findByRole('button', { name: 'Show earlier entries' }));
  await screen.findByText('q-7');
  expect(screen.getAllByText(/^q-/).map((cell) => cell.textContent)).toEqual([
    'q-30',
    'q-29',
    'q-7',
  ]);
  expect(asked.map((one) => one.query)).toEqual([{}, { before: '29' }]);
  expect(screen.queryByRole('button', { name: 'Show earlier entries' })).toBeNull();
});

test('what is looked for is asked for, and is what the file holds', async () => {
  const asked = answering({ viewJournal: () => ({ lines: [], more: false }) });
  show(<JournalPage />);
  expect(await screen.findByText(/^No entries yet/)).toBeTruthy();
  type(/^Search/, 'Odd & Ida');
  type('From', '2026-11-01');
  type('Until', '2026-11-28');
  expect(await screen.findByText('No entry matches. Change the search or the days.')).toBeTruthy();
  await waitFor(() =>
    expect(asked.at(-1)!.query).toEqual({
      q: 'Odd & Ida',
      from: '2026-11-01',
      until: '2026-11-28',
    }),
  );
  expect(file()).toBe('/api/journal/file?q=Odd+%26+Ida&from=2026-11-01&until=2026-11-28');
  type('Until', '2026-10-01');
  expect((await screen.findByRole('alert')).textContent).toContain('Swap them');
  type('Until', '');
  await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
});

test('whoever may not see it is told so', async () => {
  answering({ viewJournal: () => new Refused(403, 'The journal is for those who keep this.') });
  show(<JournalPage />, 'editor');
  expect((await screen.findByRole('alert')).textContent).toBe(
    'The journal is for those who keep this.',
  );
});
