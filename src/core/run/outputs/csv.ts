import type { OutputDescription } from './description';

export const csv = {
  id: 'csv',
  name: 'the list as CSV, with what each code says',
  about: 'For another system.',
  noun: ['row', 'rows'],
  named: true,
  choices: ['secrets'],
  noCodes: true,
} as const satisfies OutputDescription;
