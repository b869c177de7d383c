/** Verbs that describe what a route changes, in the present and in the past. */
const verbs: Readonly<Record<string, string>> = {
  accepts: 'accepted',
  adds: 'added',
  answers: 'answered',
  applies: 'applied',
  approves: 'approved',
  asks: 'asked',
  becomes: 'became',
  cancels: 'cancelled',
  changes: 'changed',
  checks: 'checked',
  closes: 'closed',
  confirms: 'confirmed',
  copies: 'copied',
  creates: 'created',
  deactivates: 'deactivated',
  deletes: 'deleted',
  discards: 'discarded',
  downloads: 'downloaded',
  emails: 'emailed',
  ends: 'ended',
  finds: 'found',
  fixes: 'fixed',
  hides: 'hid',
  invites: 'invited',
  joins: 'joined',
  makes: 'made',
  moves: 'moved',
  pauses: 'paused',
  prints: 'printed',
  reactivates: 'reactivated',
  reads: 'read',
  receives: 'received',
  redoes: 'redid',
  refuses: 'refused',
  removes: 'removed',
  renames: 'renamed',
  resumes: 'resumed',
  retries: 'retried',
  returns: 'returned',
  revokes: 'revoked',
  runs: 'ran',
  saves: 'saved',
  sends: 'sent',
  sets: 'set',
  shares: 'shared',
  signs: 'signed',
  starts: 'started',
  stops: 'stopped',
  tells: 'told',
  tests: 'tested',
  turns: 'turned',
  undoes: 'undid',
  updates: 'updated',
  uses: 'used',
  withdraws: 'withdrew',
};

/**
 * What the journal says of a change: the first sentence of what a route does, in the past, such as
 * “Deleted a list with its jobs”. Details after a colon or a semicolon are left out.
 *
 * @returns undefined for a text that does not begin with one of the verbs
 */
export function pastWords(about: string): string | undefined {
  const [first = ''] = about.split(/[.;:](?:\s|$)/);
  if (!verbs[/^\w+/.exec(first)?.[0].toLowerCase() ?? '']) return undefined;
  const past = first.replace(
    /(^|\bor |\band |, (?!or |and ))([A-Za-z]+)\b/g,
    (all, before: string, word: string) => {
      const known = verbs[word.toLowerCase()];
      if (!known) return all;
      return before + (/^[A-Z]/.test(word) ? known[0]!.toUpperCase() + known.slice(1) : known);
    },
  );
  return past;
}
