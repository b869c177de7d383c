import { cleanup, screen, within } from '@testing-library/react';
import { afterEach, expect, test, vi } from 'vitest';
import type { JobSummary } from '../../../src/contract';
import { JobsPage } from '../../../src/ui/features/jobs/jobs-page';
import { answering, Refused } from '../../helpers/answers';
import { show } from '../../helpers/page';

const job = (id: number, more: Partial<JobSummary> = {}): JobSummary => ({
  id,
  name: `Job ${id}`,
  list: 'Volunteers',
  on: '85 × 55 mm, 10 on A4',
  records: 1820,
  ready: 1800,
  look: 19,
  out: 1,
  updated: '2026-11-28T09:00:00.000Z',
  ...more,
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});
const rowOf = async (name: string) =>
  within((await screen.findByRole('link', { name })).closest('tr')!);

test('a job stands with its list, what it is on, and how many are ready', async () => {
  answering({ listJobs: () => ({ jobs: [job(9), job(10, { look: 0, out: 0, ready: 1820 })] }) });
  show(<JobsPage />);
  const first = await rowOf('Job 9');
  expect(first.getByRole('link').getAttribute('href')).toBe('/jobs/9');
  expect(first.getAllByRole('cell').map((cell) => cell.textContent?.trim())).toEqual([
    'Job 9',
    'Volunteers',
    '85 × 55 mm, 10 on A4',
    '1,820',
    '1,800',
    '19',
    '1',
    '',
    expect.stringMatching(/\d/),
  ]);
  // without problems there is no count, and no zero
  const cells = (await rowOf('Job 10')).getAllByRole('cell');
  expect([cells[5]!.textContent, cells[6]!.textContent]).toEqual(['', '']);
});

test.each([
  ['done', 0, 'ready'],
  ['done', 3, 'failed'],
  ['failed', 0, 'failed'],
  ['running', 0, 'none'],
] as const)(
  'the last run is marked by how it came out: %s, %d failed',
  async (state, failed, mark) => {
    answering({
      listJobs: () => ({ jobs: [job(9, { lastRun: { name: 'Saturday', state, failed } })] }),
    });
    show(<JobsPage />);
    const cell = (await rowOf('Job 9')).getByText(/Saturday/);
    const drawn = cell.querySelector('svg')!.outerHTML;
    cleanup();
    answering({
      listJobs: () => ({
        jobs: [
          job(9, {
            lastRun: {
              name: 'Saturday',
              state: mark === 'none' ? 'waiting' : mark === 'failed' ? 'failed' : 'done',
              failed: 0,
            },
          }),
        ],
      }),
    });
    show(<JobsPage />);
    expect((await rowOf('Job 9')).getByText(/Saturday/).querySelector('svg')!.outerHTML).toBe(
      drawn,
    );
  },
);

test('without any, it is said how one begins, or by whom one gets one', async () => {
  answering({ listJobs: () => ({ jobs: [] }) });
  show(<JobsPage />);
  expect(
    (await screen.findByRole('link', { name: 'Bring in a spreadsheet' })).getAttribute('href'),
  ).toBe('/bring-in');
  cleanup();
  show(<JobsPage />, 'viewer');
  expect(await screen.findByText(/No job is shared with you yet/)).toBeTruthy();
  expect(screen.queryByRole('link')).toBeNull();
});

test('that the server does not answer is told in words', async () => {
  answering({
    listJobs: () => new Refused(503, 'The database is away. Try it again in a moment.'),
  });
  show(<JobsPage />);
  expect(await screen.findByText(/The database is away/)).toBeTruthy();
});
