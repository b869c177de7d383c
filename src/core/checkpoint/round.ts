import * as z from 'zod';

/** The answers to a scan on a round. */
export const roundAnswers = ['here', 'elsewhere', 'twice', 'unknown'] as const;
export type RoundAnswer = (typeof roundAnswers)[number];

export const roundWords: Readonly<Record<RoundAnswer, string>> = {
  here: 'belongs here',
  elsewhere: 'belongs elsewhere',
  twice: 'twice',
  unknown: 'unknown',
};

/** How a record, or something that is none, came out of a round. */
export const roundOutcomes = ['seen', 'moved', 'elsewhere', 'missing', 'found'] as const;
export type RoundOutcome = (typeof roundOutcomes)[number];
export const roundOutcomeSchema = z.enum(roundOutcomes);

export const outcomeWords: Readonly<Record<RoundOutcome, string>> = {
  seen: 'found where it belongs',
  moved: 'moved to where it was found',
  elsewhere: 'found elsewhere, not moved',
  missing: 'not found',
  found: 'found, and not in the list before',
};

/** How one line came out: something found may have been added to the list since. */
export const outcomeOf = (line: { outcome: RoundOutcome; record: number | null }): string =>
  line.outcome !== 'found'
    ? outcomeWords[line.outcome]
    : line.record === null
      ? 'found, not in the list'
      : 'found, and added to the list';

/** Places are the same whatever blanks and capitals they are written with. */
export const samePlace = (a: string, b: string): boolean =>
  a.trim().toLocaleLowerCase() === b.trim().toLocaleLowerCase();

/**
 * The answer to a scan at a location.
 * @param belongs its location in the list; undefined if no record was found
 * @param before where it was seen earlier on this round
 */
export function roundAnswer(
  place: string,
  belongs: string | undefined,
  before: { place: string; at: string } | undefined,
): { answer: RoundAnswer; why: string } {
  if (belongs === undefined) return { answer: 'unknown', why: '' };
  if (before)
    return {
      answer: 'twice',
      why: samePlace(before.place, place)
        ? `was already found here ${before.at}`
        : `was found at ${before.place} ${before.at}`,
    };
  if (samePlace(place, belongs)) return { answer: 'here', why: '' };
  return {
    answer: 'elsewhere',
    why:
      belongs.trim() === '' ? 'the list has no location for it' : `the list has it at ${belongs}`,
  };
}

export interface RoundLine {
  record: number | null;
  title: string;
  key: string;
  outcome: RoundOutcome;
}

/**
 * Compares two rounds of one list: what was missing and is back, what is still missing, and what is
 * newly missing.
 */
export function comparedRounds(
  before: readonly RoundLine[],
  now: readonly RoundLine[],
): { back: RoundLine[]; still: RoundLine[]; anew: RoundLine[] } {
  const was = new Map(before.map((line) => [line.record, line.outcome]));
  const back: RoundLine[] = [];
  const still: RoundLine[] = [];
  const anew: RoundLine[] = [];
  for (const line of now) {
    if (line.record === null) continue;
    const then = was.get(line.record);
    if (line.outcome === 'missing') (then === 'missing' ? still : anew).push(line);
    else if (then === 'missing') back.push(line);
  }
  return { back, still, anew };
}
