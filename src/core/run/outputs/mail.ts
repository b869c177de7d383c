import type { OutputDescription } from './description';

export const mail = {
  id: 'mail',
  name: 'an email to each person',
  about: 'With their own code, and what you attach. No one gets it twice unless you choose so.',
  noun: ['email', 'emails'],
  delivers: 'mail',
  leaves: true,
  named: true,
  zipped: true,
  readFrom: 'the finished email and its attachment',
} as const satisfies OutputDescription;
