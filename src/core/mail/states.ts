/** How a mail stands. `unsure`: it was handed over, and nobody can know whether it was taken. */
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
