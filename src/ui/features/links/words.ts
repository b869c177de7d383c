import type { LinkRow } from '../../../contract';
import type { Leading, LinkRule } from '../../../core/links/leading';
import type { MarkName } from '../../kit/mark';

/** A day as people here say it: 5 December 2026. */
const dayWords = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });
/** The same in a narrow place: 5 Dec. */
export const shortDay = (day: string): string =>
  new Date(`${day}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  });

const why: Record<Extract<Leading, { kind: 'nowhere' }>['why'], string> = {
  gone: 'leads nowhere: its record was deleted',
  blank: 'leads nowhere: a column it needs is blank',
  'no-address': 'leads nowhere: the result is not a web address',
  ring: 'leads back to a link of this Hand Stamp',
};

/** Where a link leads, in the few words of a row. */
export function leadingWords(leading: Leading): string {
  if (leading.kind === 'leads') return leading.to.replace(/^https?:\/\//i, '');
  if (leading.kind === 'not-yet') return `from ${shortDay(leading.opens)} on`;
  if (leading.kind === 'nowhere') return why[leading.why];
  return leading.kind;
}

const bad: ReadonlySet<LinkRow['answered']> = new Set(['not-found', 'fails', 'no-answer']);

/** What its page said, where that is worth a word. */
export function answerWords(answered: LinkRow['answered']): string | undefined {
  if (answered === 'not-found') return 'the page was not found';
  if (answered === 'fails') return 'the page answers with an error';
  if (answered === 'no-answer') return 'the server does not answer';
  if (answered === 'sign-in') return 'the page asks for a sign-in';
  if (answered === 'redirected') return 'the page leads on elsewhere';
  return undefined;
}

/** The mark of a row: the same four as everywhere, and the ring for one that nobody scanned yet. */
export function markOf({ leading, answered, scans }: LinkRow): { name: MarkName; label: string } {
  if (leading.kind === 'paused' || leading.kind === 'withdrawn' || leading.kind === 'ended')
    return { name: 'out', label: leading.kind };
  if (leading.kind === 'nowhere') return { name: 'look', label: why[leading.why] };
  if (leading.kind === 'leads' && bad.has(answered))
    return { name: 'look', label: answerWords(answered)! };
  if (leading.kind === 'not-yet') return { name: 'none', label: 'not open yet' };
  return scans > 0
    ? { name: 'ready', label: 'open' }
    : { name: 'none', label: 'open, no scans yet' };
}

/** For how long it leads there, in the words of its sentence. */
export function spanWords({
  state,
  opens,
  ends,
  after,
}: Omit<LinkRule, 'leads' | 'peeks'>): string {
  if (state === 'paused') return 'paused';
  if (state === 'withdrawn') return 'permanently withdrawn';
  const from = opens ? `from ${dayWords(opens)} on` : '';
  const until = ends ? `until ${dayWords(ends)}` : '';
  const then = ends && after ? `, then to ${after.replace(/^https?:\/\//i, '')}` : '';
  return from || until ? [from, until].filter(Boolean).join(', ') + then : 'no end';
}
