import { expect, test } from 'vitest';
import type { JobView } from '../../../src/contract';
import type { JobDocument } from '../../../src/core/job/document';
import { newest } from '../../../src/ui/features/job/newest';

const document = (does: string) => ({ stamps: [{ does }] }) as unknown as JobDocument;
const view = (version: number, does: string, judging = 0) =>
  ({ version, document: document(does), judging, list: { revision: 1 } }) as unknown as JobView;
const shows = (job: JobView) => [job.version, job.document.stamps[0]!.does, job.judging];

test('what was asked before a change and is answered after it takes nothing back', () => {
  expect(shows(newest(view(5, 'contact'), view(4, 'page'), undefined))).toEqual([5, 'contact', 0]);
});

test('a change that is being kept stays shown, and what else is new comes with it', () => {
  const way = { version: 4, document: document('contact') };
  expect(shows(newest(view(4, 'contact'), view(4, 'page', 12), way))).toEqual([4, 'contact', 12]);
});

test('the answer to a change, and whatever came after it, is shown as it is', () => {
  const way = { version: 4, document: document('contact') };
  expect(shows(newest(view(4, 'contact'), view(5, 'contact'), way))).toEqual([5, 'contact', 0]);
  // somebody else was quicker
  expect(shows(newest(view(4, 'contact'), view(5, 'text'), way))).toEqual([5, 'text', 0]);
});

test('a change that was refused goes back to what it was made of', () => {
  expect(shows(newest(view(4, 'contact'), view(4, 'page'), undefined))).toEqual([4, 'page', 0]);
});

test('what is the same stays the same thing, so that nothing is drawn again for it', () => {
  const known = view(4, 'page');
  expect(newest(known, view(4, 'page'), undefined)).toBe(known);
});
