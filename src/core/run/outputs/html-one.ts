import type { OutputDescription } from './description';

export const htmlOne = {
  id: 'html-one',
  name: 'one page of all',
  about:
    'One HTML file. When printed, each record begins a new sheet. For checking, and for printing.',
  noun: ['page', 'pages'],
  piece: true,
  grounds: ['html'],
  readFrom: 'the picture in the page, at its dots',
  most: { records: 2000, words: 'One page' },
} as const satisfies OutputDescription;
