import { answerWords, type Answer } from '../../../core/checkpoint/answer';
import type { Hold } from '../../../core/checkpoint/rule';
import type { TapeLine } from '../../../contract';
import type { MarkName } from '../../kit/mark';

const clock = new Intl.DateTimeFormat('en-GB', {
  hour: '2-digit',
  minute: '2-digit',
  second: '2-digit',
});
const short = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const dated = new Intl.DateTimeFormat('en-GB', {
  weekday: 'short',
  day: 'numeric',
  month: 'short',
  hour: '2-digit',
  minute: '2-digit',
});

/** A time of day with its seconds, in the clock of this device. */
export const atClock = (iso: string): string => clock.format(new Date(iso));

/** A time of day; with its day where that is not today. */
export const atShort = (at: string | number): string => {
  const date = new Date(at);
  return (date.toDateString() === new Date().toDateString() ? short : dated).format(date);
};

export const markOf: Readonly<Record<Answer | 'taken-back', MarkName>> = {
  'comes-in': 'ready',
  'was-here': 'look',
  'not-now': 'look',
  altered: 'failed',
  unknown: 'failed',
  withdrawn: 'out',
  'not-certain': 'look',
  'taken-back': 'out',
};

/** A line of the tape in words, without its title. */
export function lineWords(line: TapeLine): string {
  if (line.answer === 'taken-back') return 'undone';
  const what =
    line.answer === 'was-here' && line.why ? `already in ${line.why}` : answerWords[line.answer];
  return line.how === 'hand' && line.answer === 'comes-in' ? `${what}, by hand` : what;
}

/** What else is to be told of a line. */
export function lineNotes(line: TapeLine): string {
  return [
    line.answer === 'was-here' ? '' : line.why,
    line.reason ?? '',
    line.apart ? 'offline' : '',
    line.found === null ? '' : `the list says: ${answerWords[line.found]}`,
    line.twice
      ? `also let in ${atShort(line.twice.at)} at ${line.twice.where}, ${line.twice.who}`
      : '',
    line.back ? 'undone' : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

/** A condition in words. */
export function holdWords({ is, value }: Hold, column: string): string {
  if (is === 'session') return `its ${column} is the session’s`;
  if (is === 'blank') return `its ${column} is blank`;
  if (is === 'filled') return `its ${column} is not blank`;
  return `its ${column} is ${is === 'is-not' ? 'not ' : ''}${value || 'blank'}`;
}

export const oftenWords = {
  any: 'any number of times',
  once: 'once',
  'each-session': 'once each session',
} as const;

/** A list of names in words: `Name, Role and Site`. */
export const named = (names: readonly string[]): string =>
  names.length < 2 ? (names[0] ?? '') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`;
