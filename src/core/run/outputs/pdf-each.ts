import type { OutputDescription } from './description';

export const pdfEach = {
  id: 'pdf-each',
  name: 'a PDF for each record',
  about: 'In one ZIP file, each named from a column. For sending to people one by one.',
  noun: ['PDF', 'PDFs'],
  piece: true,
  grounds: ['stock'],
  named: true,
  attached: 'the piece as a PDF',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
