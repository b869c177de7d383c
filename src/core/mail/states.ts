/** The state of an email. `unsure`: it was sent, and nobody can know whether it was accepted. */
export const mailStates = [
  'waiting',
  'handing',
  'sent',
  'refused',
  'unsure',
  'held',
  'stopped',
] as const;
export type MailState = (typeof mailStates)[number];

export const mailStateWords: Record<MailState, string> = {
  waiting: 'waiting',
  handing: 'being sent',
  sent: 'sent',
  refused: 'refused',
  unsure: 'uncertain',
  held: 'held back',
  stopped: 'not sent',
};
