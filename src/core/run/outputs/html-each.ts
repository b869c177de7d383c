import type { OutputDescription } from './description';

export const htmlEach = {
  id: 'html-each',
  name: 'a page for each record',
  about: 'HTML files with their pictures inside, in one ZIP file, each named from a column.',
  noun: ['page', 'pages'],
  piece: true,
  grounds: ['html'],
  readFrom: 'the picture in each page, at its dots',
  named: true,
  attached: 'the page as HTML',
  zipped: true,
  choices: ['name'],
} as const satisfies OutputDescription;
