import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { Memo } from '../../../src/server/platform/memo';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

/** Answers that can be waited for, each a number higher than the one before. */
function counter() {
  let count = 0;
  return { work: vi.fn(() => Promise.resolve({ count: ++count })) };
}
const db = {};

test('an answer is worked out once for all who ask the same, also at the same moment', async () => {
  const memo = new Memo<{ count: number }>(10, 60_000);
  const { work } = counter();
  expect(memo.has(db, 'a')).toBe(false);
  const [one, two] = await Promise.all([memo.get(db, 'a', work), memo.get(db, 'a', work)]);
  expect([one, two, await memo.get(db, 'a', work)]).toEqual([
    { count: 1 },
    { count: 1 },
    { count: 1 },
  ]);
  expect(memo.has(db, 'a')).toBe(true);
  expect(await memo.get(db, 'b', work)).toEqual({ count: 2 });
  // another database has answers of its own
  expect(await memo.get({}, 'a', work)).toEqual({ count: 3 });
});

test('a failure is told to those who waited for it, and not held', async () => {
  const memo = new Memo<{ count: number }>(10, 60_000);
  const fails = () => Promise.reject(new Error('away'));
  const both = [memo.get(db, 'a', fails), memo.get(db, 'a', fails)];
  for (const one of both) await expect(one).rejects.toThrow('away');
  expect(await memo.get(db, 'a', counter().work)).toEqual({ count: 1 });
});

test('where the last answer will do it is given at once, and the new one comes behind it', async () => {
  const memo = new Memo<{ count: number }>(10, 60_000);
  const { work } = counter();
  const ask = (name: string, willDo = true) =>
    memo.about(db, { thing: 'job 1', name, willDo: () => willDo }, work);
  // nothing is known of it yet
  expect(await ask('as of 1')).toEqual({ count: 1 });
  expect(await ask('as of 2')).toEqual({ count: 1 });
  expect(work).toHaveBeenCalledTimes(1);
  await vi.runAllTimersAsync();
  expect(work).toHaveBeenCalledTimes(2);
  // asked again it is there, and not worked out once more
  expect(await ask('as of 2')).toEqual({ count: 2 });
  await vi.runAllTimersAsync();
  expect(work).toHaveBeenCalledTimes(2);
  // where it has to be right, whoever asks waits for it
  expect(await ask('as of 3', false)).toEqual({ count: 3 });
  // and nothing of it is said of another thing
  const other = { thing: 'job 2', name: 'as of 3 of 2', willDo: () => true };
  expect(await memo.about(db, other, work)).toEqual({ count: 4 });
});

test('a failure behind an answer hurts nobody, and the next asks again', async () => {
  const memo = new Memo<{ count: number }>(10, 60_000);
  const { work } = counter();
  const at = (name: string) => ({ thing: 'job 1', name, willDo: () => true });
  await memo.about(db, at('as of 1'), work);
  expect(await memo.about(db, at('as of 2'), () => Promise.reject(new Error('away')))).toEqual({
    count: 1,
  });
  await vi.runAllTimersAsync();
  expect(memo.has(db, 'as of 2')).toBe(false);
  expect(await memo.about(db, { ...at('as of 2'), willDo: () => false }, work)).toEqual({
    count: 2,
  });
});
