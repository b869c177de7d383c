import type { OutputDescription } from './description';

export const pdfsTray = {
  id: 'pdfs-tray',
  name: 'each PDF with its code, into the Out-tray',
  about:
    'A folder of the run’s name in the Out-tray, which lies in the In-tray beside the originals; each under its own name. The same in one ZIP file.',
  noun: ['PDF', 'PDFs'],
  piece: true,
  readFrom: 'the finished page, as a printer would set it',
  grounds: ['pdfs'],
  zipped: true,
  leaves: true,
} as const satisfies OutputDescription;
