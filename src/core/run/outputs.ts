import { z } from 'zod';

/** What a run makes. To add one, add its kind here, its maker in `server/outputs`, and its words. */
export const outputKinds = ['pdf', 'pdf-each', 'images', 'xlsx', 'csv', 'html'] as const;
export type OutputKind = (typeof outputKinds)[number];
export const imageFormats = ['png', 'jpeg', 'svg', 'eps', 'pdf'] as const;
export type ImageFormat = (typeof imageFormats)[number];

export const outputSchema = z.object({
  kind: z.enum(outputKinds),
  /** Of images: the file format, the width in mm and the resolution. */
  format: z.enum(imageFormats).optional(),
  sizeMm: z.number().min(4).max(300).optional(),
  dpi: z.number().int().min(72).max(2400).optional(),
  /** Column whose value names each file; the key where there is none. */
  nameFrom: z.string().optional(),
  /** Secret columns are left out of what is taken away unless this is said. */
  secrets: z.boolean().optional(),
});
export type Output = z.infer<typeof outputSchema>;

export const outputWords: Record<OutputKind, { name: string; about: string }> = {
  pdf: {
    name: 'one PDF for print',
    about:
      'Sheets as they are laid out, codes as sharp outlines. For printing here or at a printer’s.',
  },
  'pdf-each': {
    name: 'a PDF for each record',
    about: 'In one ZIP file, each named from a column. For sending to people one by one.',
  },
  images: {
    name: 'a picture of each code',
    about:
      'In one ZIP file, each named from a column. For web pages, apps and other people’s designs.',
  },
  xlsx: {
    name: 'the list as XLSX with its codes',
    about: 'The spreadsheet again, each code as a picture beside its row.',
  },
  csv: {
    name: 'the list as CSV with its payloads',
    about: 'What each code says, for another system.',
  },
  html: {
    name: 'a page with all codes',
    about:
      'One HTML file that holds everything it shows. For looking through, and for sending round.',
  },
};

export const imageWords: Record<ImageFormat, { name: string; about: string }> = {
  png: { name: 'PNG', about: 'Pixels without loss: for web pages, mails and documents.' },
  jpeg: { name: 'JPEG', about: 'Pixels with a little loss: where nothing else is taken.' },
  svg: { name: 'SVG', about: 'Outlines, sharp at any size: for web pages and drawing programs.' },
  eps: { name: 'EPS', about: 'Outlines for older printing and layout programs.' },
  pdf: { name: 'PDF', about: 'Outlines, one page as large as the code.' },
};

/** Most rows of one workbook with pictures. */
export const mostWorkbookRows = 5000;
