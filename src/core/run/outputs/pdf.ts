import type { OutputDescription } from './description';

export const pdf = {
  id: 'pdf',
  name: 'one PDF for print',
  about:
    'Sheets as they are laid out, codes as sharp outlines. For printing here or at a printer’s.',
  noun: ['sheet', 'sheets'],
  sheets: true,
  piece: true,
  grounds: ['stock'],
} as const satisfies OutputDescription;
