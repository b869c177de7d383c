import type { OutputDescription } from './description';

export const pdfsEach = {
  id: 'pdfs-each',
  name: 'each PDF with its code',
  about: 'In one ZIP file, each under its own name. Everything that was in it stays.',
  noun: ['PDF', 'PDFs'],
  piece: true,
  readFrom: 'the finished page, as a printer would print it',
  grounds: ['pdfs'],
  zipped: true,
  attached: 'their PDF with its code',
} as const satisfies OutputDescription;
