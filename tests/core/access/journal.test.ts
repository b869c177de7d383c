import { expect, test } from 'vitest';
import { allRoutes } from '../../../src/contract';
import { pastWords } from '../../../src/core/access/journal';

test.each([
  ['Deletes a list with its jobs.', 'Deleted a list with its jobs'],
  ['Undoes or redoes a revision.', 'Undid or redid a revision'],
  [
    'Changes the roles of columns, or renames, hides, moves or adds them.',
    'Changed the roles of columns, or renamed, hid, moved or added them',
  ],
  ['Creates an API key for a program. The key is shown once.', 'Created an API key for a program'],
  ['Deletes a job with its runs.', 'Deleted a job with its runs'],
])('“%s” is told in the past', (about, past) => expect(pastWords(about)).toBe(past));

test('what no verb begins is left as it is', () => {
  expect(pastWords('The journal.')).toBeUndefined();
  expect(pastWords('')).toBeUndefined();
});

test('every route that the journal tells of begins with a verb that has a past', () => {
  const told = allRoutes.filter(([, r]) => r.method !== 'GET' && !r.asks && !r.tape);
  expect(told.length).toBeGreaterThan(90);
  expect(told.filter(([, r]) => pastWords(r.about) === undefined).map(([name]) => name)).toEqual(
    [],
  );
});
