import type { OutputDescription } from './description';

export const docxOne = {
  id: 'docx-one',
  name: 'one document of all',
  about:
    'One DOCX that can be changed, each record on its own pages with its own headers and numbering. For checking, and for printing at once.',
  noun: ['document', 'documents'],
  piece: true,
  grounds: ['document'],
  readFrom: 'the picture in the document, at its dots',
  most: { records: 2000, words: 'One document' },
} as const satisfies OutputDescription;
