import { addressPurpose, purposeOf } from './purposes';

/** The beginning of the payload of each purpose, in its open format. */
const beginnings: readonly (readonly [does: string, begins: RegExp])[] = [
  [addressPurpose, /^(https?:\/\/|www\.)\S/i],
  ['mail', /^mailto:/i],
  ['call', /^tel:/i],
  ['message', /^sms(to)?:/i],
  ['wifi', /^WIFI:/i],
  ['place', /^geo:-?\d/i],
  ['contact', /^(BEGIN:VCARD|MECARD:)/i],
  ['event', /^BEGIN:V(CALENDAR|EVENT)/i],
  ['product', /^\(01\)\d{8}/],
];

/**
 * The purpose that a content clearly belongs to, if it is not the stamp's own: for example a web
 * address in a stamp that only shows text. Undefined if there is no conflict.
 * @param does the stamp's purpose; only one whose content is used as it is can hold another's
 */
export function plainlyOf(content: string, does: string): string | undefined {
  if (!purposeOf(does).asItIs) return undefined;
  const text = content.trim();
  return beginnings.find(([, begins]) => begins.test(text))?.[0];
}
