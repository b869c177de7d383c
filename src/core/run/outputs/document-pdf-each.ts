import type { OutputDescription } from './description';

export const documentPdfEach = {
  id: 'document-pdf-each',
  name: 'a PDF of each document',
  about: 'In one ZIP file, each named from a column. For sending to people one by one.',
  noun: ['PDF', 'PDFs'],
  piece: true,
  readFrom: 'the finished page, as a printer would print it',
  grounds: ['document', 'html'],
  needs: 'office',
  named: true,
  attached: 'the document as a PDF',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
