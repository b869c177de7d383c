import type { OutputDescription } from './description';

export const documentPdf = {
  id: 'document-pdf',
  name: 'one PDF of all documents',
  about: 'One after the other, each on pages of its own. For printing.',
  noun: ['document', 'documents'],
  piece: true,
  readFrom: 'the finished page, as a printer would print it',
  grounds: ['document', 'html'],
  needs: 'office',
  most: { records: 2000, words: 'One PDF of documents' },
} as const satisfies OutputDescription;
