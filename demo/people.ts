import type { Right } from '../src/core/access/rights';

/**
 * The garden's made-up people, one for each right; the first is the coordinator whom visitors of
 * the demo are taken for.
 */
export const gardenPeople: readonly { name: string; right: Right }[] = [
  { name: 'Ines Tarrow', right: 'keeps' },
  { name: 'Oda Brennick', right: 'changes' },
  { name: 'Tam Wickerley', right: 'looks' },
  { name: 'Pell Garrow', right: 'scans' },
];

export const mailOf = (name: string): string =>
  `${name.split(' ')[0]!.toLowerCase()}@marrambay.example`;

export const visitorMail = mailOf(gardenPeople[0]!.name);
