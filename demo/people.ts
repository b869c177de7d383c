import type { Right } from '../src/core/access/rights';

/**
 * The garden's made-up people, one for each right; the first is the coordinator whom visitors of
 * the demo are taken for.
 */
export const gardenPeople: readonly { name: string; right: Right }[] = [
  { name: 'Ines Tarrow', right: 'administrator' },
  { name: 'Oda Brennick', right: 'editor' },
  { name: 'Tam Wickerley', right: 'viewer' },
  { name: 'Pell Garrow', right: 'scanner' },
];

export const mailOf = (name: string): string =>
  `${name.split(' ')[0]!.toLowerCase()}@marrambay.example`;

export const visitorMail = mailOf(gardenPeople[0]!.name);
