import { addressPurpose, purposeOf } from './purposes';

/** How the payload of each purpose begins, in the open format behind it. */
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
 * The purpose that a content is plainly of, where that is another than the one it was given to: a
 * web address in a stamp that only shows text, say. Undefined where nothing speaks against it.
 * @param does the stamp's purpose; only one whose content is used as it is can hold another's
 */
export function plainlyOf(content: string, does: string): string | undefined {
  if (!purposeOf(does).asItIs) return undefined;
  const text = content.trim();
  return beginnings.find(([, begins]) => begins.test(text))?.[0];
}
