/**
 * Dates as people and spreadsheets write them: read if that is certain, and written in another
 * format.
 */

/** Date formats, each as a function of one day. */
export const dateForms = [
  '2026-11-23',
  '23.11.2026',
  '23/11/2026',
  '11/23/2026',
  '23 Nov 2026',
  '261123',
] as const;

const months = 'Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec'.split(' ');

/** Reads a date in the formats of people and spreadsheets; undefined if it is ambiguous. */
export function readDate(
  text: string,
  first: 'day' | 'month',
): [year: number, month: number, day: number] | undefined {
  const iso = /^(\d{4})-(\d\d?)-(\d\d?)/.exec(text);
  const numbers = /^(\d\d?)[./ -](\d\d?)[./ -](\d{4})$/.exec(text);
  const words = /^(\d\d?)[. ]+([A-Za-z]{3})[a-z]*[. ]+(\d{4})$/.exec(text);
  let found: [number, number, number] | undefined;
  if (iso) found = [Number(iso[1]), Number(iso[2]), Number(iso[3])];
  else if (words)
    found = [
      Number(words[3]),
      months.findIndex((m) => m.toLowerCase() === words[2]!.toLowerCase()) + 1,
      Number(words[1]),
    ];
  // dots are written day first everywhere
  else if (numbers)
    found =
      first === 'day' || text.includes('.')
        ? [Number(numbers[3]), Number(numbers[2]), Number(numbers[1])]
        : [Number(numbers[3]), Number(numbers[1]), Number(numbers[2])];
  if (!found) return undefined;
  const date = new Date(Date.UTC(found[0], found[1] - 1, found[2]));
  return date.getUTCMonth() === found[1] - 1 && date.getUTCDate() === found[2] ? found : undefined;
}

export function writeDate(
  [y, m, d]: [number, number, number],
  as: (typeof dateForms)[number],
): string {
  const two = (n: number) => String(n).padStart(2, '0');
  const forms: Record<(typeof dateForms)[number], string> = {
    '2026-11-23': `${y}-${two(m)}-${two(d)}`,
    '23.11.2026': `${two(d)}.${two(m)}.${y}`,
    '23/11/2026': `${two(d)}/${two(m)}/${y}`,
    '11/23/2026': `${two(m)}/${two(d)}/${y}`,
    '23 Nov 2026': `${d} ${months[m - 1]} ${y}`,
    '261123': `${two(y % 100)}${two(m)}${two(d)}`,
  };
  return forms[as];
}
