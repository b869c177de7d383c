import { EncodeError } from '../symbology/types';
import { isAddress, parseDigitalLink } from '../symbology/gs1/digital-link';
import { parseElements, separator, type Gs1Element } from '../symbology/gs1/elements';

/**
 * A payload taken apart: what a phone or scanner would do with it, and its fields with their
 * values.
 */
export interface Unpacked {
  /** In words, after "a phone would". */
  does: string;
  fields: { name: string; value: string }[];
}

const decoded = (text: string): string => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};
const filled = (fields: readonly [string, string | undefined][]) =>
  fields.flatMap(([name, value]) => (value ? [{ name, value }] : []));
const queryFields = (query: string, names: Readonly<Record<string, string>> = {}) =>
  filled(
    query
      .split('&')
      .filter(Boolean)
      .map((pair): [string, string] => {
        const [name = '', ...rest] = pair.split('=');
        return [
          names[name.toLowerCase()] ?? decoded(name),
          decoded(rest.join('=').replace(/\+/g, ' ')),
        ];
      }),
  );

/** The names of the commonest GS1 application identifiers (GS1 General Specifications). */
const elementNames: Readonly<Record<string, string>> = {
  '00': 'shipping unit',
  '01': 'product number',
  '02': 'product number inside',
  '10': 'lot',
  '11': 'made on',
  '13': 'packed on',
  '15': 'best before',
  '17': 'expires',
  '21': 'serial number',
  '30': 'count',
  '37': 'count inside',
  '8200': 'product page',
};
const elementFields = (elements: readonly Gs1Element[]) =>
  elements.map(({ ai, value }) => ({ name: `(${ai}) ${elementNames[ai] ?? 'element'}`, value }));

/** An event of whole days says as its end the first day that is not of it (RFC 5545). */
function lastDay(day: string): string {
  const last = new Date(
    Date.UTC(Number(day.slice(0, 4)), Number(day.slice(4, 6)) - 1, Number(day.slice(6, 8)) - 1),
  );
  return last.toISOString().slice(0, 10);
}

/**
 * Takes a payload apart by its open format; text in no format has no fields.
 * @param elements whether the code declares GS1 elements; without that they are text to every
 *   scanner
 */
export function unpack(payload: string, elements = false): Unpacked {
  const scheme = /^([a-z][a-z0-9+.-]*):/i.exec(payload)?.[1]!.toLowerCase();
  const rest = scheme ? payload.slice(scheme.length + 1) : '';
  const [path = '', query = ''] = rest.split('?', 2);
  if (isAddress(payload)) return unpackAddress(payload);
  if (scheme === 'mailto')
    return {
      does: 'start an email',
      fields: [
        ...filled([['to', decoded(path)]]),
        ...queryFields(query, { subject: 'subject', body: 'text' }),
      ],
    };
  if (scheme === 'tel') return { does: 'offer to call', fields: filled([['number', path]]) };
  if (scheme === 'sms' || scheme === 'smsto')
    return {
      does: 'start a text message',
      fields: [...filled([['number', path]]), ...queryFields(query, { body: 'text' })],
    };
  if (scheme === 'geo') {
    const [latitude, longitude] = path.split(/[,;]/);
    return {
      does: 'show a place on the map',
      fields: [
        ...filled([
          ['latitude', latitude],
          ['longitude', longitude],
        ]),
        ...queryFields(query, { q: 'search' }),
      ],
    };
  }
  if (scheme === 'wifi') return { does: 'offer to join a Wi-Fi network', fields: wifiFields(rest) };
  if (/^BEGIN:VCARD/i.test(payload))
    return { does: 'offer to save a contact', fields: cardFields(payload, contactNames) };
  if (/^BEGIN:(VEVENT|VCALENDAR)/i.test(payload))
    return { does: 'offer to add an event', fields: cardFields(payload, eventNames) };
  const said = gs1Elements(payload);
  if (said)
    return {
      does: elements
        ? 'show it as text; a till or a warehouse scanner reads it as a product'
        : 'show it as text, and so would a till: only a GS1 code marks it as a product',
      fields: elementFields(said),
    };
  if (/^www\.|^[a-z0-9-]+(\.[a-z0-9-]+)+\//i.test(payload))
    return {
      does: 'show it as text, or search for it: the address has no https:// in front',
      fields: [],
    };
  return { does: 'show it as text', fields: [] };
}

function unpackAddress(payload: string): Unpacked {
  let url: URL;
  try {
    url = new URL(payload);
  } catch {
    return { does: 'show it as text: it is not an address that can be opened', fields: [] };
  }
  const does = `offer to open a page on ${url.host}`;
  try {
    const elements = parseDigitalLink(payload);
    if (elements.length > 0)
      return { does: `${does}; a till reads it as a product`, fields: elementFields(elements) };
  } catch (error) {
    if (!(error instanceof EncodeError)) throw error;
  }
  const path = decoded(url.pathname.replace(/^\//, ''));
  return {
    does,
    fields: [
      ...filled([['page', path]]),
      ...queryFields(url.search.slice(1)),
      ...filled([['place on the page', decoded(url.hash.slice(1))]]),
    ],
  };
}

/** Symbology identifiers (ISO/IEC 15424) with which readers tell GS1 elements from text. */
export const saysElements = (identifier: string): boolean =>
  [']C1', ']d2', ']Q3', ']e0'].includes(identifier);

function gs1Elements(payload: string): Gs1Element[] | undefined {
  if (
    !(payload.startsWith(separator) || /^(\(\d{2,4}\)|\d)/.test(payload)) ||
    (/^\d+$/.test(payload) && payload.length < 16)
  )
    return undefined;
  try {
    return parseElements(payload);
  } catch (error) {
    if (error instanceof EncodeError) return undefined;
    throw error;
  }
}

/** Fields of a `WIFI:` text; a backslash escapes the character after it. */
function wifiFields(text: string) {
  const names: Record<string, string> = {
    S: 'network',
    P: 'password',
    T: 'protected by',
    H: 'hidden',
  };
  return filled(
    [...text.matchAll(/([A-Z]):((?:\\.|[^;\\])*);/g)].map(([, letter = '', value = '']) => [
      names[letter] ?? letter,
      value.replace(/\\(.)/g, '$1'),
    ]),
  );
}

const contactNames: Readonly<Record<string, string>> = {
  FN: 'name',
  ORG: 'organisation',
  TITLE: 'role',
  TEL: 'telephone',
  EMAIL: 'e-mail',
  URL: 'page',
  ADR: 'address',
  NOTE: 'note',
  BDAY: 'birthday',
};
const eventNames: Readonly<Record<string, string>> = {
  SUMMARY: 'title',
  DTSTART: 'begins',
  DTEND: 'ends',
  LOCATION: 'place',
  DESCRIPTION: 'note',
};

/** Fields of a vCard or iCalendar text: folded lines joined, escapes undone (RFC 6350, 5545). */
function cardFields(text: string, names: Readonly<Record<string, string>>) {
  const lines = text.replace(/\r?\n[ \t]/g, '').split(/\r?\n/);
  return filled(
    lines.flatMap((line): [string, string][] => {
      const [, name, kinds = '', raw] = /^([A-Z-]+)(?:;([^:]*))?:(.*)$/is.exec(line) ?? [];
      const called = name && names[name.toUpperCase()];
      if (!called) return [];
      // only these have parts; elsewhere a semicolon is one
      const parts = (
        /^(N|ADR|ORG)$/i.test(name)
          ? [...raw!.matchAll(/((?:\\.|[^\\;])*)(?:;|$)/gs)].map((part) => part[1])
          : [raw]
      ).map((part) => part!.replace(/\\(.)/gs, (_, c: string) => (/n/i.test(c) ? '\n' : c)));
      const value = parts.filter(Boolean).join(', ').replace(/^tel:/, '');
      if (name.toUpperCase() === 'DTEND' && /^\d{8}$/.test(value))
        return [['last day', lastDay(value)]];
      const where = /^(TEL|EMAIL|ADR)$/i.test(name) && /\b(work|home)\b/i.exec(kinds)?.[1];
      const said = where ? `${called} at ${where.toLowerCase()}` : called;
      return [[said, name.toUpperCase().startsWith('DT') ? writtenTime(value) : value]];
    }),
  );
}

const writtenTime = (text: string): string =>
  text.replace(
    /^(\d{4})(\d\d)(\d\d)(?:T(\d\d)(\d\d)(\d\d)?(Z?))?$/,
    (_, y: string, m: string, d: string, h?: string, min?: string, _s?: string, z?: string) =>
      `${y}-${m}-${d}${h ? ` ${h}:${min}${z ? ' UTC' : ''}` : ''}`,
  );
