import type { OutputDescription } from './description';

export const htmlDocxEach = {
  id: 'html-docx-each',
  name: 'a document for each record',
  about:
    'DOCX files in one ZIP file, each named from a column. You can change them afterwards. What a page has only for screens is left out.',
  noun: ['document', 'documents'],
  piece: true,
  grounds: ['html'],
  readFrom: 'the picture in each finished document, at its dots',
  needs: 'office',
  named: true,
  attached: 'the page as a DOCX',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
