import type { OutputDescription } from './description';

export const mail = {
  id: 'mail',
  name: 'a mail to each person',
  about: 'Their own code in it, and what else you attach. Nobody gets it twice unless you say so.',
  noun: ['mail', 'mails'],
  delivers: 'mail',
  leaves: true,
  named: true,
  zipped: true,
  readFrom: 'the very picture that stands in the mail, and from what is attached',
} as const satisfies OutputDescription;
