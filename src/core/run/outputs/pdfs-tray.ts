import type { OutputDescription } from './description';

export const pdfsTray = {
  id: 'pdfs-tray',
  name: 'each PDF with its code, into the Out-tray',
  about:
    'A folder with the run’s name in the Out-tray, each PDF under its own name. The same in one ZIP file.',
  noun: ['PDF', 'PDFs'],
  piece: true,
  readFrom: 'the finished page, as a printer would print it',
  grounds: ['pdfs'],
  zipped: true,
  leaves: true,
} as const satisfies OutputDescription;
