import type { OutputDescription } from './description';

export const pdfsOne = {
  id: 'pdfs-one',
  name: 'one PDF of all of them',
  about: 'One after the other, each with its code. For printing.',
  noun: ['document', 'documents'],
  piece: true,
  readFrom: 'the finished page, as a printer would print it',
  grounds: ['pdfs'],
  most: { records: 2000, words: 'One PDF of documents' },
} as const satisfies OutputDescription;
