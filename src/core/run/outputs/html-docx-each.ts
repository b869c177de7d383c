import type { OutputDescription } from './description';

export const htmlDocxEach = {
  id: 'html-docx-each',
  name: 'a document for each record',
  about:
    'DOCX files in one ZIP file, each named from a column. They can be changed afterwards; what a page has for screens only is not in them.',
  noun: ['document', 'documents'],
  piece: true,
  grounds: ['html'],
  readFrom: 'the picture that stands in each finished document, at its dots',
  needs: 'office',
  named: true,
  attached: 'the page as a DOCX',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
