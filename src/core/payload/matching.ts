import { isSecret, type Column } from '../records/columns';
import { purposeOf } from './purposes';
import type { Stamp } from './stamp';

/** Headings that mean a field of a purpose, in small letters and with single spaces. */
const meanings: Readonly<Record<string, RegExp>> = {
  given: /^(given|first|fore) ?names?$/,
  family: /^(family|last|sur) ?names?$/,
  organisation:
    /^(organi[sz]ation|organi[sz]ation name|company|company name|employer|institution)$/,
  title: /^(role|job title|position|function)$/,
  phone:
    /^(mobile|cell|mobile (tele)?phone|(tele)?phone|(tele)?phone (no|number)|mobile (no|number)|tel)$/,
  phoneWork: /^((tele)?phone (at )?work|work (tele)?phone|office (tele)?phone|direct line)$/,
  phoneHome: /^((tele)?phone (at )?home|home (tele)?phone)$/,
  mail: /^(e-?mail|mail|e-?mail address|mail address)$/,
  mailWork: /^(e-?mail (at )?work|work e-?mail)$/,
  mailHome: /^(e-?mail (at )?home|home e-?mail|private e-?mail)$/,
  page: /^(page|web ?page|web ?site|web|url|home ?page)$/,
  street: /^(street|street address|address|address line 1|address 1)$/,
  city: /^(town|city|place|locality|post town)$/,
  postcode: /^(post ?code|postal code|zip|zip code|plz)$/,
  country: /^country$/,
  note: /^(notes?|remarks?|comments?)$/,
  gtin: /^(gtin|gtin-?1[234]|ean|ean-?13|upc|barcode|product (no|number|code)|article (no|number))$/,
  lot: /^(lot|lot (no|number)|batch|batch (no|number))$/,
  serial: /^(serial|serial (no|number)|s ?\/ ?n)$/,
  expiry: /^(expiry|expires|expiry date|expiration date|use by|best before)$/,
};
/** The meaning of the same headings for an event. */
const eventMeanings: Readonly<Record<string, RegExp>> = {
  title: /^(title|event|workshop|session|talk|summary|subject|what)$/,
  start: /^(start|starts|begins?|beginning|from|date|when|start (date|time)|starts at)$/,
  end: /^(ends?|until|to|end (date|time)|ends at)$/,
  place: /^(place|where|location|venue|room)$/,
  note: meanings.note!,
};

const plain = (heading: string): string =>
  heading
    .toLowerCase()
    .replace(/[_.:]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/**
 * Fills the empty fields of a purpose with the columns whose headings mean them. If two columns
 * mean the same, a person decides.
 * @returns fields by name; filled ones stay
 */
export function matchedFields(
  stamp: Pick<Stamp, 'fields'>,
  does: string,
  columns: readonly Column[],
): NonNullable<Stamp['fields']> {
  const fields = { ...stamp.fields };
  const used = new Set(
    Object.values(fields).flatMap((parts) =>
      parts.flatMap((part) => (part.kind === 'column' ? [part.column] : [])),
    ),
  );
  const known = does === 'event' ? eventMeanings : meanings;
  for (const { id, choices } of purposeOf(does).fields) {
    const meant = known[id];
    if (!meant || choices || (fields[id]?.length ?? 0) > 0) continue;
    // only a person puts a secret into a code
    const fitting = columns.filter(
      (c) => !used.has(c.id) && !isSecret(c, columns) && meant.test(plain(c.name)),
    );
    if (fitting.length !== 1) continue;
    fields[id] = [{ kind: 'column', column: fitting[0]!.id }];
    used.add(fitting[0]!.id);
  }
  return fields;
}
