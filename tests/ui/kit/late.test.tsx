import { act, cleanup, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, expect, test, vi } from 'vitest';
import { late } from '../../../src/ui/kit/late';

afterEach(cleanup);

const ByAndBy = () => <p>by and by</p>;
function Counting() {
  const [count, setCount] = useState(0);
  return <button onClick={() => setCount(count + 1)}>ahead {count}</button>;
}

test('what was fetched ahead is there in the very step in which it is shown', async () => {
  const Part = late(ByAndBy, () => Promise.resolve(Counting));
  expect(Part.isHere()).toBe(false);
  await Part.ahead();
  expect(Part.isHere()).toBe(true);
  render(<Part />);
  expect(screen.getByRole('button').textContent).toBe('ahead 0');
});

test('what is shown stays what it is when the same comes ahead, and loses nothing', async () => {
  const fetched = vi.fn(() => Promise.resolve(ByAndBy));
  const Part = late(Counting, fetched);
  const { rerender } = render(<Part />);
  act(() => screen.getByRole('button').click());
  await Part.ahead();
  rerender(<Part />);
  expect(screen.getByRole('button').textContent).toBe('ahead 1');
  await Part.ahead();
  expect(fetched).toHaveBeenCalledTimes(1);
});

test('a part that does not come ahead is asked for again when it is shown', async () => {
  const fetched = vi
    .fn<() => Promise<typeof Counting>>()
    .mockRejectedValueOnce(new Error('no network'))
    .mockResolvedValueOnce(Counting);
  const Part = late(ByAndBy, fetched);
  await Part.ahead();
  expect(Part.isHere()).toBe(false);
  const { unmount } = render(<Part />);
  expect(screen.getByText('by and by')).toBeTruthy();
  unmount();
  await Part.ahead();
  render(<Part />);
  expect(screen.getByRole('button')).toBeTruthy();
});

test('what was asked for ahead twice at the same moment comes once for whoever shows it', async () => {
  const fetched = vi.fn(() => Promise.resolve(Counting));
  const Part = late(ByAndBy, fetched);
  await Promise.all([Part.ahead(), Part.ahead()]);
  render(<Part />);
  expect(screen.getAllByRole('button')).toHaveLength(1);
  cleanup();
  // put up again it begins anew
  render(<Part />);
  expect(screen.getByRole('button').textContent).toBe('ahead 0');
});
