import type { OutputDescription } from './description';

export const csv = {
  id: 'csv',
  name: 'the list as CSV with its payloads',
  about: 'What each code says, for another system.',
  noun: ['row', 'rows'],
  named: true,
  choices: ['secrets'],
  noCodes: true,
} as const satisfies OutputDescription;
