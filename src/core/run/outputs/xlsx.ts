import type { OutputDescription } from './description';

export const xlsx = {
  id: 'xlsx',
  name: 'the list as XLSX with its codes',
  about: 'The spreadsheet again, with each code as a picture next to its row.',
  noun: ['row', 'rows'],
  named: true,
  choices: ['secrets'],
  most: { records: 5000, words: 'A workbook with pictures' },
} as const satisfies OutputDescription;
