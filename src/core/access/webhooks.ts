/** The events that a webhook can be called for. */
export const webhookEvents = [
  'record.came',
  'record.changed',
  'record.went',
  'run.finished',
  'link.scanned',
] as const;
export type WebhookEvent = (typeof webhookEvents)[number];

export const webhookWords: Record<WebhookEvent, { name: string; about: string }> = {
  'record.came': { name: 'records are added', about: 'Their numbers, up to 500 at a time.' },
  'record.changed': {
    name: 'records are changed',
    about: 'The numbers of records whose values were changed.',
  },
  'record.went': {
    name: 'records are deleted',
    about: 'The numbers of records that were deleted.',
  },
  'run.finished': { name: 'a run is finished', about: 'Done, failed or stopped.' },
  'link.scanned': {
    name: 'links are scanned',
    about: 'In batches, about once a second. Never who scanned.',
  },
};

/**
 * Pauses before a delivery is tried again, in minutes: for a day in all. After the last it is given
 * up.
 */
export const webhookPauses = [1, 5, 15, 60, 180, 360, 720] as const;
