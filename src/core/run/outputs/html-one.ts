import type { OutputDescription } from './description';

export const htmlOne = {
  id: 'html-one',
  name: 'one page of all',
  about:
    'One HTML file; printed, each record begins a sheet. For looking through, and for printing.',
  noun: ['page', 'pages'],
  piece: true,
  grounds: ['html'],
  readFrom: 'the picture that stands in the page, at its dots',
  most: { records: 2000, words: 'One page' },
} as const satisfies OutputDescription;
