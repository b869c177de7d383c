import type { Column, Values } from '../records/columns';
import { failing, holdsOf, sessionAt, type Rule, type Take } from './rule';

/** What a scan is answered. */
export const answers = [
  'comes-in',
  'was-here',
  'not-now',
  'altered',
  'unknown',
  'withdrawn',
  'not-certain',
] as const;
export type Answer = (typeof answers)[number];

export const answerWords: Readonly<Record<Answer, string>> = {
  'comes-in': 'let in',
  'was-here': 'already in',
  'not-now': 'not allowed now',
  altered: 'altered',
  unknown: 'unknown',
  withdrawn: 'withdrawn',
  'not-certain': 'cannot check',
};

/** A difference between a field of the code and the list. */
export interface Differs {
  column: string;
  code: string;
  list: string;
}

/** The meaning of a scanned text. */
export type Found =
  | { kind: 'record'; take: Take; values: Values; columns: readonly Column[]; proven: boolean }
  | { kind: 'not-certain'; why: string }
  | { kind: 'altered'; why: string }
  | { kind: 'withdrawn'; why: string }
  | { kind: 'unknown'; why: string };

/** An earlier scan that came in and was not taken back. */
export interface Pass {
  /** In ms since 1970. */
  at: number;
  session: string | null;
  /** Name of the checkpoint. */
  where: string;
}

export interface Answered {
  answer: Answer;
  /** The reason, in words; blank if there is nothing to add. */
  why: string;
  session: string | null;
}

/**
 * The answer to a scan under a rule.
 * @param passes of the same record at the checkpoints that count together, the latest first
 * @param now in ms since 1970
 * @param clock a time of day in words
 */
export function answerTo(
  rule: Rule,
  found: Found,
  passes: readonly Pass[],
  now: number,
  here: string,
  clock: (at: number) => string,
): Answered {
  const session = sessionAt(rule.session, now);
  if (found.kind !== 'record') return { answer: found.kind, why: found.why, session };
  const closed = closedWords(rule, now, clock);
  if (closed) return { answer: 'not-now', why: closed, session };
  if (found.take.genuine && !found.proven)
    return { answer: 'not-certain', why: 'this code carries no proof that it is genuine', session };
  const fails = failing(holdsOf(rule, found.take), found.values, found.columns, session);
  if (fails) return { answer: 'not-now', why: fails.words, session };
  if (rule.often === 'each-session' && session === null)
    return { answer: 'not-now', why: 'no session is on now', session };
  const before = passBefore(rule, passes, session);
  if (before)
    return {
      answer: 'was-here',
      why: `${clock(before.at)}${before.where === here ? '' : `, ${before.where}`}`,
      session,
    };
  return { answer: 'comes-in', why: '', session };
}

/** The earlier entry after which a code may not enter again; undefined if it may. */
export function passBefore(
  rule: Pick<Rule, 'often'>,
  passes: readonly Pass[],
  session: string | null,
): Pass | undefined {
  if (rule.often === 'any') return undefined;
  return passes.find((pass) => rule.often === 'once' || pass.session === session);
}

export function closedWords(
  { opens, ends }: Pick<Rule, 'opens' | 'ends'>,
  now: number,
  clock: (at: number) => string,
): string | undefined {
  if (opens !== null && now < Date.parse(opens)) return `it opens at ${clock(Date.parse(opens))}`;
  if (ends !== null && now >= Date.parse(ends)) return `it ended at ${clock(Date.parse(ends))}`;
  return undefined;
}
