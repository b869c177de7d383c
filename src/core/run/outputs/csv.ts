import type { OutputDescription } from './output';

export const csv: OutputDescription = {
  id: 'csv',
  name: 'the list as CSV with its payloads',
  about: 'What each code says, for another system.',
  noun: ['row', 'rows'],
  named: true,
  choices: ['secrets'],
  noCodes: true,
};
