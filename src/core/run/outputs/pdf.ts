import type { OutputDescription } from './description';

export const pdf = {
  id: 'pdf',
  name: 'one PDF for print',
  about: 'Sheets as laid out, codes as sharp outlines. For your own printer or a print shop.',
  noun: ['sheet', 'sheets'],
  sheets: true,
  piece: true,
  grounds: ['stock'],
} as const satisfies OutputDescription;
