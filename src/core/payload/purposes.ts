import { calendarDay, calendarTime, type DateOrder, timeZones } from './calendar';
import { trimmedEnd } from '../base/trim';
import { mapped } from '../base/tuple';
import { symbologies } from '../symbology';
import { sha256 } from '@noble/hashes/sha2';
import { EncodeError, type SymbologyId } from '../symbology/types';
import { writtenAddress } from './address';
import { digitalLink } from '../symbology/gs1/digital-link';
import { bracketed, parseElements, type Gs1Element } from '../symbology/gs1/elements';
import { dialChoices, phoneNumber } from './phone';

/** What a scan does. To add a purpose, add one entry here. */
export interface Purpose {
  id: string;
  /** Completes “A scan …”. */
  does: string;
  /** What happens when it is scanned, as a person sees it. */
  phone: string;
  /** Its open format, as small print. */
  format: string;
  /** Its fields; one field `content` for purposes with one run of text. */
  fields: readonly Field[];
  /** Its content is an address, which is opened. */
  opens?: true;
  /** A short link may replace its target. */
  byLink?: true;
  /** Its content is in the code as it is. */
  asItIs?: true;
  /** Its payload may be GS1 element strings, which not every symbology is understood to carry. */
  elements?: true;
  /** A proof is added at the end, if the key of the list is available. */
  proves?: true;
  /** The field that identifies the record, if there is one. */
  keyIn?: 'content' | 'signed' | 'who';
  /** The secret part of its payload: the text before it, and then the secret. */
  hides?: RegExp;
  /**
   * The payload from the fields' texts, for the code type that will carry it. Blank fields are ''.
   * @throws EncodeError in words, with the fix
   */
  build(fields: Readonly<Record<string, string>>, symbology?: SymbologyId): string;
}

export interface Field {
  id: string;
  label: string;
  /** Without it there is no code. */
  needed?: boolean;
  /** A second one of its kind: offered in the sentence, and no column of the blank sheet. */
  further?: boolean;
  /** Every sign of it counts, spaces at its ends too. */
  exact?: boolean;
  /** Fixed choices instead of text. */
  choices?: readonly { value: string; label: string }[];
}

const percent = (text: string): string =>
  encodeURIComponent(text).replace(
    /[!'()*]/g,
    (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`,
  );

/** Backslashes before what vCard and iCalendar take for separators (RFC 6350, RFC 5545). */
const escaped = (text: string): string => text.replace(/[\\;,]/g, '\\$&').replace(/\r?\n/g, '\\n');

/**
 * The same for a value without parts in vCard 4.0, in which a semicolon is not escaped (TEXT-CHAR
 * of RFC 6350).
 */
const escapedWhole = (text: string): string => escaped(text).replaceAll('\\;', ';');

/** The first fields that hold anything, as `name:value` lines. */
const lines = (rows: readonly (readonly [name: string, value: string])[]): string =>
  rows
    .filter(([, value]) => value.replace(/;/g, '') !== '')
    .map(([name, value]) => `${name}:${value}`)
    .join('\r\n');

/** The parts of a postal address, in the order of ADR (RFC 2426, 3.2.1; RFC 6350, 6.3.1). */
const postal = (street = '', city = '', postcode = '', country = ''): string =>
  ['', '', street, city, '', postcode, country].map(escaped).join(';');

/** vCard 3.0 (RFC 2426) or 4.0 (RFC 6350). */
function contact(f: Readonly<Record<string, string>>): string {
  const four = f.version === '4.0';
  const whole = (text = '') => (four ? escapedWhole(text) : escaped(text));
  const telephone = (number = '') =>
    number ? (four ? 'tel:' : '') + phoneNumber(number, f.dial) : '';
  const full = [f.given, f.family].filter(Boolean).join(' ') || f.organisation;
  return `${lines([
    ['BEGIN', 'VCARD'],
    ['VERSION', four ? '4.0' : '3.0'],
    ['N', [f.family, f.given, '', '', ''].map((part) => escaped(part ?? '')).join(';')],
    ['FN', whole(full)],
    ['ORG', escaped(f.organisation ?? '')],
    ['TITLE', whole(f.title)],
    [four ? 'TEL;VALUE=uri' : 'TEL;TYPE=CELL', telephone(f.phone)],
    [four ? 'TEL;VALUE=uri;TYPE=work' : 'TEL;TYPE=WORK', telephone(f.phoneWork)],
    [four ? 'TEL;VALUE=uri;TYPE=home' : 'TEL;TYPE=HOME', telephone(f.phoneHome)],
    [four ? 'EMAIL' : 'EMAIL;TYPE=INTERNET', whole(f.mail)],
    [four ? 'EMAIL;TYPE=work' : 'EMAIL;TYPE=INTERNET,WORK', whole(f.mailWork)],
    [four ? 'EMAIL;TYPE=home' : 'EMAIL;TYPE=INTERNET,HOME', whole(f.mailHome)],
    ['URL', f.page ? writtenAddress(f.page) : ''],
    ['ADR', postal(f.street, f.city, f.postcode, f.country)],
    [
      four ? 'ADR;TYPE=home' : 'ADR;TYPE=HOME',
      postal(f.streetHome, f.cityHome, f.postcodeHome, f.countryHome),
    ],
    ['NOTE', whole(f.note)],
  ])}\r\nEND:VCARD`;
}

/**
 * The day after one in the basic form of ISO 8601: the end of an event of whole days is the first
 * day that is not of it (RFC 5545).
 */
function dayAfter(day: string): string {
  const next = new Date(
    Date.UTC(Number(day.slice(0, 4)), Number(day.slice(4, 6)) - 1, Number(day.slice(6, 8)) + 1),
  );
  return next.toISOString().slice(0, 10).replaceAll('-', '');
}

const isDay = (time: string): boolean => time.length === 8;

const dateOrder = ({ dates }: Readonly<Record<string, string>>): DateOrder =>
  dates === 'day' || dates === 'month' ? dates : undefined;

/** iCalendar (RFC 5545). Times without a zone are those at the place of the event. */
function event(f: Readonly<Record<string, string>>): string {
  const first = dateOrder(f);
  const start = calendarTime(f.start!, first, f.zone);
  const end = f.end ? calendarTime(f.end, first, f.zone) : '';
  const ways = ['Give both a time of day, or neither.', 'The event begins'];
  if (end && isDay(start) !== isDay(end))
    throw new EncodeError(
      'character',
      `${ways[1]} ${isDay(start) ? 'on a whole day and ends at a time' : 'at a time and ends on a whole day'}.`,
      {
        mend: ways[0],
      },
    );
  if (end && end.endsWith('Z') !== start.endsWith('Z'))
    throw new EncodeError(
      'character',
      'One of the two times is given in UTC and the other is not.',
      {
        mend: 'Write Z after both times, or after neither.',
      },
    );
  if (end && end < start)
    throw new EncodeError('character', 'The event ends before it begins.', {
      mend: 'Swap the two times.',
    });
  const dated = (name: string, value: string): [string, string] => [
    isDay(value) ? `${name};VALUE=DATE` : name,
    value,
  ];
  const said: [string, string][] = [
    ['SUMMARY', escaped(f.title!)],
    dated('DTSTART', start),
    dated('DTEND', isDay(end) ? dayAfter(end) : end),
    ['LOCATION', escaped(f.place ?? '')],
    ['DESCRIPTION', escaped(f.note ?? '')],
  ];
  return `${lines([
    ['BEGIN', 'VCALENDAR'],
    ['VERSION', '2.0'],
    ['PRODID', '-//Hand Stamp//EN'],
    ['BEGIN', 'VEVENT'],
    // the same event has the same identity in every code, so that scanning it twice adds it once
    ['UID', hexOf(sha256(new TextEncoder().encode(JSON.stringify(said))).subarray(0, 8))],
    ['DTSTAMP', `${start.slice(0, 8)}T000000Z`],
    ...said,
    ['END', 'VEVENT'],
  ])}\r\nEND:VCALENDAR`;
}

const hexOf = (bytes: Uint8Array): string =>
  Array.from(bytes, (b) => b.toString(16).padStart(2, '0')).join('');

function place(f: Readonly<Record<string, string>>): string {
  const [latitude, longitude] = mapped([f.latitude, f.longitude], (text = '', i) => {
    const value = Number(text.trim().replace(',', '.'));
    const most = i === 0 ? 90 : 180;
    if (text.trim() === '' || !Number.isFinite(value) || Math.abs(value) > most)
      throw new EncodeError(
        'character',
        `“${text}” is not a ${i === 0 ? 'latitude' : 'longitude'}.`,
        {
          mend: `Write degrees from -${most} to ${most}, such as 54.0871.`,
        },
      );
    return String(value);
  });
  return `geo:${latitude},${longitude}${f.label ? `?q=${latitude},${longitude}(${percent(f.label)})` : ''}`;
}

function product(f: Readonly<Record<string, string>>, symbology?: SymbologyId): string {
  const elements: Gs1Element[] = [];
  for (const [ai, value] of [
    ['01', f.gtin],
    ['17', f.expiry && calendarDay(f.expiry, dateOrder(f)).slice(2)],
    ['10', f.lot],
    ['21', f.serial],
  ] as const)
    if (value) elements.push(...parseElements(`(${ai})${value}`));
  if (f.form === 'link') return digitalLink(elements, ownHost(f.base ?? ''));
  const inElements =
    f.form === 'elements' ||
    elements.length > 1 ||
    (symbology !== undefined && symbologies[symbology].elements === true);
  return inElements ? bracketed(elements) : f.gtin!;
}

function ownHost(base: string): string {
  if (base === '')
    throw new EncodeError('empty', 'The product page has no web address of its own yet.', {
      mend: 'Enter in the sentence where your product pages are, for example your website.',
    });
  if (!/^https?:\/\/[^/?#\s]+/i.test(base))
    throw new EncodeError('character', `“${base}” is not an address that product pages can have.`, {
      mend: 'Write it with https:// in front.',
    });
  return writtenAddress(base);
}

const field = (id: string, label: string, more: Partial<Field> = {}): Field => ({
  id,
  label,
  ...more,
});
const dates = field('dates', 'dates with slashes', {
  choices: [
    { value: '', label: 'none of them, since they may be read in two ways' },
    { value: 'day', label: 'the day first, as in 23/11/2026' },
    { value: 'month', label: 'the month first, as in 11/23/2026' },
  ],
});
const dial = field('dial', 'numbers without a country', { choices: dialChoices });
const content = (label: string) => [field('content', label, { needed: true })];

/** The default purposes of an address, and of text. */
export const addressPurpose = 'page';
export const wordsPurpose = 'text';

export const purposes: readonly Purpose[] = [
  {
    id: addressPurpose,
    does: 'opens a page',
    phone: 'The phone offers to open the address in its browser.',
    format: 'URI, RFC 3986',
    fields: content('address'),
    opens: true,
    byLink: true,
    build: (f) => writtenAddress(f.content!),
  },
  {
    id: wordsPurpose,
    does: 'shows text',
    phone: 'The phone shows the words; nothing else happens.',
    format: 'plain text',
    fields: content('text'),
    asItIs: true,
    build: (f) => f.content!,
  },
  {
    id: 'contact',
    does: 'saves a contact',
    phone: 'The phone offers to save a name with its number, email and address.',
    format: 'vCard 3.0 or 4.0, RFC 2426 and 6350',
    fields: [
      field('given', 'first name', { needed: true }),
      field('family', 'last name'),
      field('organisation', 'organisation'),
      field('title', 'role'),
      field('phone', 'mobile telephone'),
      field('phoneWork', 'telephone at work', { further: true }),
      field('phoneHome', 'telephone at home', { further: true }),
      dial,
      field('mail', 'email'),
      field('mailWork', 'email at work', { further: true }),
      field('mailHome', 'email at home', { further: true }),
      field('page', 'page'),
      field('street', 'street'),
      field('city', 'town'),
      field('postcode', 'postcode'),
      field('country', 'country'),
      field('streetHome', 'street at home', { further: true }),
      field('cityHome', 'town at home', { further: true }),
      field('postcodeHome', 'postcode at home', { further: true }),
      field('countryHome', 'country at home', { further: true }),
      field('note', 'note'),
      field('version', 'written as', {
        choices: [
          { value: '3.0', label: 'vCard 3, which old phones read too' },
          { value: '4.0', label: 'vCard 4' },
        ],
      }),
    ],
    build: contact,
  },
  {
    id: 'mail',
    does: 'writes an email',
    phone: 'The phone opens a new email with everything filled in; the person sends it.',
    format: 'mailto, RFC 6068',
    fields: [
      field('to', 'to', { needed: true }),
      field('subject', 'subject'),
      field('body', 'text'),
    ],
    build(f) {
      if (!/^[^\s@]+@[^\s@]+$/.test(f.to!))
        throw new EncodeError('character', `“${f.to}” is not an email address.`, {
          mend: 'Write it as name@place.example.',
        });
      const query = [
        ['subject', f.subject],
        ['body', f.body],
      ]
        .filter(([, v]) => v)
        .map(([k, v]) => `${k}=${percent(v!.replace(/\r?\n/g, '\r\n'))}`);
      const [local = '', host = ''] = f.to!.split('@');
      return `mailto:${percent(local)}@${host}${query.length ? `?${query.join('&')}` : ''}`;
    },
  },
  {
    id: 'call',
    does: 'calls',
    phone: 'The phone asks whether to call the number.',
    format: 'tel, RFC 3966',
    fields: [field('number', 'number', { needed: true }), dial],
    build: (f) => `tel:${phoneNumber(f.number!, f.dial)}`,
  },
  {
    id: 'message',
    does: 'writes a text message',
    phone: 'The phone opens a new text message, filled in; the person sends it.',
    format: 'sms, RFC 5724',
    fields: [field('number', 'number', { needed: true }), field('body', 'text'), dial],
    build: (f) =>
      `sms:${phoneNumber(f.number!, f.dial)}${f.body ? `?body=${percent(f.body)}` : ''}`,
  },
  {
    id: 'wifi',
    does: 'joins a Wi-Fi network',
    phone: 'The phone offers to join the network without typing the password.',
    format: 'WIFI URI, WPA3 specification',
    fields: [
      field('network', 'network', { needed: true, exact: true }),
      field('password', 'password', { exact: true }),
      field('security', 'protected by', {
        choices: [
          { value: 'WPA', label: 'WPA, as nearly all are' },
          { value: 'nopass', label: 'nothing: it is open' },
          { value: 'WEP', label: 'WEP, which is old' },
        ],
      }),
      field('hidden', 'the network is', {
        choices: [
          { value: '', label: 'seen by all' },
          { value: 'true', label: 'hidden' },
        ],
      }),
    ],
    hides: /(;P:)(?:\\.|[^;\\])*/,
    build(f) {
      const safe = (text: string) => text.replace(/[\\;,:"]/g, '\\$&');
      const security = f.security || (f.password ? 'WPA' : 'nopass');
      if (security !== 'nopass' && !f.password)
        throw new EncodeError('empty', 'The network needs a password, but there is none.', {
          mend: 'Enter the password, or choose that the network is open.',
        });
      return `WIFI:T:${security};S:${safe(f.network!)};${f.password && security !== 'nopass' ? `P:${safe(f.password)};` : ''}${f.hidden ? 'H:true;' : ''};`;
    },
  },
  {
    id: 'place',
    does: 'shows a place',
    phone: 'The phone opens a map at the place.',
    format: 'geo, RFC 5870',
    fields: [
      field('latitude', 'latitude', { needed: true }),
      field('longitude', 'longitude', { needed: true }),
      field('label', 'name on the map'),
    ],
    build: place,
  },
  {
    id: 'event',
    does: 'adds an event',
    phone: 'The phone offers to put the event into the calendar.',
    format: 'iCalendar, RFC 5545',
    fields: [
      field('title', 'title', { needed: true }),
      field('start', 'begins', { needed: true }),
      field('end', 'ends'),
      field('place', 'place'),
      field('note', 'note'),
      dates,
      field('zone', 'times', {
        choices: [
          { value: '', label: 'local times, wherever it is scanned' },
          ...timeZones.map((zone) => ({ value: zone, label: `times of ${zone}` })),
        ],
      }),
    ],
    build: event,
  },
  {
    id: 'product',
    does: 'identifies a product',
    phone:
      'A till or a warehouse scanner knows the product; a phone shows the number or opens its page.',
    format: 'GS1 element strings and Digital Link',
    fields: [
      field('gtin', 'product number', { needed: true }),
      field('expiry', 'expires'),
      field('lot', 'lot'),
      field('serial', 'serial'),
      dates,
      field('form', 'written as', {
        choices: [
          {
            value: '',
            label: 'the number, with identifiers if the code type or further values need them',
          },
          { value: 'elements', label: 'always GS1 elements' },
          { value: 'link', label: 'the address of a product page, which tills read too' },
        ],
      }),
      field('base', 'on the address'),
    ],
    elements: true,
    build: product,
  },
  {
    id: 'thing',
    does: 'identifies a thing',
    phone: 'A scanner types the number where its cursor is; a phone shows it.',
    format: 'the number as it is',
    fields: content('number'),
    asItIs: true,
    keyIn: 'content',
    build: (f) => f.content!,
  },
  {
    id: 'genuine',
    does: 'proves that it is genuine',
    phone: 'The phone opens the address, where the proof behind it is checked.',
    format: 'HMAC-SHA-256, shortened, or an Ed25519 signature',
    fields: [
      field('content', 'address before the proof', { needed: true }),
      field('signed', 'what is proved', { needed: true }),
    ],
    opens: true,
    proves: true,
    keyIn: 'signed',
    hides: /([?&]proof=)[^&#]*/,
    // the proof itself is added where the list's key is available
    build: (f) => writtenAddress(f.content!),
  },
  {
    id: 'check-in',
    does: 'checks in',
    phone: 'The phone opens the check-in page of that person or thing.',
    format: 'URI, RFC 3986',
    fields: [
      field('content', 'address of the checkpoint', { needed: true }),
      field('who', 'who or what', { needed: true }),
    ],
    opens: true,
    keyIn: 'who',
    build: (f) => `${trimmedEnd(writtenAddress(f.content!), '/')}/${percent(f.who!)}`,
  },
];

export const purposeIds = purposes.map((p) => p.id) as [string, ...string[]];
export const purposeOf = (id: string): Purpose => purposes.find((p) => p.id === id) ?? purposes[1]!;
