const moment = new Intl.DateTimeFormat('en-GB', {
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

/** A moment as people here say it: 11 Nov, 16:20. */
export const when = (iso: string): string => moment.format(new Date(iso));
