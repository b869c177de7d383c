import type { OutputDescription } from './description';

export const docxEach = {
  id: 'docx-each',
  name: 'a document for each record',
  about: 'DOCX files in one ZIP file, each named from a column. They can be changed afterwards.',
  noun: ['document', 'documents'],
  piece: true,
  grounds: ['document'],
  readFrom: 'the picture in each document, at its dots',
  named: true,
  attached: 'the document as DOCX',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
