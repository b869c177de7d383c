import type { OutputDescription } from './output';

export const pdf: OutputDescription = {
  id: 'pdf',
  name: 'one PDF for print',
  about:
    'Sheets as they are laid out, codes as sharp outlines. For printing here or at a printer’s.',
  noun: ['sheet', 'sheets'],
  sheets: true,
  piece: true,
  grounds: ['stock'],
};
