import ICAL from 'ical.js';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { proposeParts } from '../../../src/core/payload/by-example';
import { phoneNumber } from '../../../src/core/payload/phone';
import { purposeOf } from '../../../src/core/payload/purposes';
import { contentOf, firstStamp, judgeStamp, type Stamp } from '../../../src/core/payload/stamp';
import { unpack } from '../../../src/core/payload/unpack';
import type { Column, Values } from '../../../src/core/records/columns';
import { encode, expectedRead, explainFit } from '../../../src/core/symbology';
import { readAll, symbolPgm } from '../../helpers/barcode';

/**
 * Payloads parsed by independent parsers: ical.js for vCard and iCalendar, URL and URLSearchParams
 * for addresses.
 */
const build = (id: string, fields: Record<string, string>): string => {
  const purpose = purposeOf(id);
  return purpose.build(Object.fromEntries(purpose.fields.map((f) => [f.id, fields[f.id] ?? ''])));
};
const columns: Column[] = ['Key', 'Name', 'Day'].map((name, i) => ({
  id: `c${i + 1}`,
  name,
  role: i === 0 ? 'key' : 'text',
}));
const stampOf = (more: Partial<Stamp>): Stamp => ({ ...firstStamp(columns), ...more });
const fixed = (fields: Record<string, string>) =>
  Object.fromEntries(
    Object.entries(fields).map(([id, text]) => [id, [{ kind: 'text' as const, text }]]),
  );

/** Text that people write: no control characters, no lone surrogates, not blank. */
const words = fc
  .string({ unit: 'grapheme', minLength: 1, maxLength: 24 })
  .map((text) => text.replace(/\p{Cc}|\p{Cs}/gu, '').trim())
  .filter((text) => text !== '');

describe('a product with identifiers', () => {
  const gtins = ['2000411000017', '02000411000017', '4006381333931', '20000028', '200041100001'];
  test.each(['gs1-data-matrix', 'gs1-qr', 'gs1-128'] as const)(
    'a number alone in %s begins with (01)',
    async (symbology) => {
      for (const gtin of ['2000411000017', '02000411000017', '4006381333931']) {
        const content = contentOf(
          stampOf({ does: 'product', parts: [], fields: fixed({ gtin }), symbology }),
          {},
        );
        expect(content).toEqual({ state: 'said', payload: `(01)${gtin.padStart(14, '0')}` });
        const symbol = encode(symbology, content.state === 'said' ? content.payload : '');
        const [read] = await readAll(symbolPgm(symbol, 4));
        expect(read!.text).toBe(`01${gtin.padStart(14, '0')}`);
        expect(read!.identifier).toBe(expectedRead(symbol).identifier);
      }
    },
  );
  test('no symbol with FNC1 begins with a bare number', () => {
    for (const gtin of gtins.filter((g) => g.length !== 12))
      for (const symbology of ['gs1-data-matrix', 'gs1-qr', 'gs1-128'] as const)
        expect([gtin, explainFit(symbology, gtin)]).toEqual([
          gtin,
          expect.objectContaining({
            fits: false,
            mend: `Write it as (01)${gtin.padStart(14, '0')}.`,
          }),
        ]);
  });
  test('in a plain code it is text, is said to be, and the GS1 code is offered', () => {
    const stamp = stampOf({
      does: 'product',
      parts: [],
      fields: fixed({ gtin: '2000411000017', lot: 'AB' }),
      symbology: 'qr',
    });
    expect(judgeStamp(stamp, {}, columns)).toMatchObject({
      mark: 'look',
      mend: 'Use GS1 QR code instead.',
    });
    expect(judgeStamp({ ...stamp, symbology: 'gs1-qr' }, {}, columns)).toMatchObject({
      mark: 'ready',
    });
    expect(unpack('(01)02000411000017(10)AB').does).toContain('text');
    expect(unpack('(01)02000411000017(10)AB').does).not.toContain('reads it as a product');
    expect(unpack('(01)02000411000017(10)AB', true).does).toContain('reads it as a product');
  });
  test('a product page without an address of one’s own is not ready', () => {
    const stamp = stampOf({
      does: 'product',
      parts: [],
      fields: fixed({ gtin: '2000411000017', form: 'link' }),
    });
    expect(judgeStamp(stamp, {}, columns)).toMatchObject({
      mark: 'look',
      reason: expect.stringContaining('no web address of its own'),
    });
    expect(
      judgeStamp(
        {
          ...stamp,
          fields: fixed({ gtin: '2000411000017', form: 'link', base: 'id.marrambay.example' }),
        },
        {},
        columns,
      ),
    ).toMatchObject({ mark: 'look', mend: 'Write it with https:// in front.' });
  });
});

describe('telephone numbers', () => {
  test.each([
    ['+44 20 7946 0018', '', '+442079460018'],
    ['+44-20-7946-0018', '', '+442079460018'],
    ['+442079460018', 'DE', '+442079460018'],
    ['020 7946 0018', 'GB', '+442079460018'],
    ['(020) 7946 0018', 'GB', '+442079460018'],
    ['020 7946 0018', 'as-written', '02079460018'],
    ['112', 'as-written', '112'],
  ])('%s, those without a country “%s”, is %s', (given, from, wanted) =>
    expect(phoneNumber(given, from)).toBe(wanted),
  );
  test.each([
    ['+44 (0)20 7946 0018', '', /\(0\)/, /\+44 20 7946 0018/],
    ['020 7946 0018', '', /no country/, /in the sentence/],
    ['0044 20 7946 0018', 'GB', /begins with 00/, /\+442079460018/],
    ['+44 20 7946 0018 ext. 12', '', /extension/, /12/],
    ['020 7946 0018 x12', 'GB', /extension/, /12/],
    ['+44 20 7946 0018;ext=12', '', /extension/, /12/],
    ['0800 FLOWERS', 'GB', /letters/, /digits/],
    ['+44 20', '', /too few/, /digits/],
    ['+44 20 7946 0018 / +44 20 7946 0019', '', /not one telephone number/, /one number/],
    ['Ines', '', /not a telephone number/, /digits/],
    ['', 'GB', /not a telephone number/, /digits/],
  ])('%s (%s) is flagged, never guessed', (given, from, reason, mend) => {
    const thrown = (() => {
      try {
        return phoneNumber(given, from);
      } catch (error) {
        return error as { message: string; mend: string };
      }
    })();
    expect(thrown).toMatchObject({
      message: expect.stringMatching(reason),
      mend: expect.stringMatching(mend),
    });
  });
});

describe('events', () => {
  const parsed = (payload: string) =>
    new ICAL.Event(
      new ICAL.Component(ICAL.parse(payload) as unknown[]).getFirstSubcomponent('vevent')!,
    );
  test('whole days end after their last day', () => {
    const payload = build('event', {
      title: 'Open weekend',
      start: '2026-12-30',
      end: '2026-12-31',
    });
    expect(payload).toContain('DTEND;VALUE=DATE:20270101');
    const event = parsed(payload);
    expect(event.startDate.isDate).toBe(true);
    expect(event.duration.toSeconds()).toBe(2 * 86_400);
    expect(unpack(payload).fields).toContainEqual({ name: 'last day', value: '2026-12-31' });
  });
  test('carries what calendars require', () => {
    const payload = build('event', {
      title: 'a',
      start: '2026-12-30 10:00',
      end: '2026-12-30 11:30',
    });
    const calendar = new ICAL.Component(ICAL.parse(payload) as unknown[]);
    expect(calendar.getFirstPropertyValue('prodid')).toBeTruthy();
    const component = calendar.getFirstSubcomponent('vevent')!;
    expect(component.getFirstPropertyValue('uid')).toMatch(/^[0-9a-f]{16}$/);
    expect(String(component.getFirstPropertyValue('dtstamp'))).toBe('2026-12-30T00:00:00Z');
    expect(build('event', { title: 'a', start: '2026-12-30 10:00', end: '2026-12-30 11:30' })).toBe(
      payload,
    );
    expect(build('event', { title: 'b', start: '2026-12-30 10:00' })).not.toContain(
      String(component.getFirstPropertyValue('uid')),
    );
  });
  test('of two kinds of time it is flagged', () => {
    for (const [start, end] of [
      ['2026-12-30', '2026-12-30 11:00'],
      ['2026-12-30 10:00', '2026-12-31'],
      ['2026-12-30 10:00', '2026-12-30T11:00Z'],
    ] as const)
      expect(() => build('event', { title: 'a', start, end })).toThrow(/whole day|UTC/);
  });
  test('any words come back from a parser that is not ours', () => {
    fc.assert(
      fc.property(words, words, words, (title, place, note) => {
        const event = parsed(build('event', { title, place, note, start: '2026-06-06 10:00' }));
        expect([event.summary, event.location, event.description]).toEqual([title, place, note]);
      }),
    );
  });
});

const plain = words.filter((text) => !/[\\;]/.test(text));

describe('contacts', () => {
  const card = (payload: string) => new ICAL.Component(ICAL.parse(payload) as unknown[]);
  test.each(['3.0', '4.0'])(
    'any words come back from a parser that is not ours, vCard %s',
    (version) => {
      fc.assert(
        // this parser takes the second backslash of two for the escape of a separator behind it,
        // and leaves an escaped semicolon of a whole value in vCard 3.0 as it is; both are said
        // below of our own reading
        fc.property(plain, plain, plain, plain, (given, family, organisation, street) => {
          const vcard = card(
            build('contact', {
              given,
              family,
              organisation,
              street,
              version,
              phone: '+44 20 7946 0018',
            }),
          );
          expect(vcard.getFirstPropertyValue('fn')).toBe(`${given} ${family}`);
          expect((vcard.getFirstPropertyValue('n') as unknown as string[]).slice(0, 2)).toEqual([
            family,
            given,
          ]);
          expect([vcard.getFirstPropertyValue('org')].flat()[0]).toBe(organisation);
          expect((vcard.getFirstPropertyValue('adr') as unknown as string[])[2]).toBe(street);
          expect(String(vcard.getFirstPropertyValue('tel')).replace('tel:', '')).toBe(
            '+442079460018',
          );
        }),
      );
    },
  );
});

test.each(['3.0', '4.0'])(
  'any words at all come back from our own reading, vCard %s',
  (version) => {
    fc.assert(
      fc.property(words, words, words, (given, family, organisation) => {
        const { fields } = unpack(build('contact', { given, family, organisation, version }));
        expect(fields).toContainEqual({ name: 'name', value: `${given} ${family}` });
        expect(fields).toContainEqual({ name: 'organisation', value: organisation });
      }),
      { numRuns: 500 },
    );
  },
);

test.each(['3.0', '4.0'])('line separators of Unicode end no line of a vCard %s', (version) => {
  for (const mark of ['\u2028', '\u2029', '\u0085', '\v', '\f']) {
    const given = `Wren${mark}Ada`;
    const { fields } = unpack(build('contact', { given, family: 'Rose', version }));
    expect(fields).toContainEqual({ name: 'name', value: `${given} Rose` });
  }
});

test.each(['3.0', '4.0'])(
  'several telephones, emails and addresses keep their kinds for a parser that is not ours, vCard %s',
  (version) => {
    const payload = build('contact', {
      given: 'Wren',
      phone: '+44 7700 900123',
      phoneWork: '+44 20 7946 0018',
      mail: 'wren@garden.example',
      mailWork: 'w@marrambay.example',
      mailHome: 'home@garden.example',
      street: '1 Quay',
      city: 'Marram',
      streetHome: '2 Dune Row',
      countryHome: 'Westland',
      version,
    });
    const card = new ICAL.Component(ICAL.parse(payload) as unknown[]);
    const kinds = (name: string) =>
      card
        .getAllProperties(name)
        .map((p) => [
          String([p.getParameter('type')].flat().join('+') ?? '').toLowerCase(),
          [p.getFirstValue()].flat().filter(Boolean).map(String).join(','),
        ]);
    expect(kinds('tel').map(([kind, value]) => [kind!.includes('work'), value])).toEqual([
      [false, expect.stringContaining('+447700900123')],
      [true, expect.stringContaining('+442079460018')],
    ]);
    expect(kinds('email').map(([kind]) => /work|home/.exec(kind!)?.[0])).toEqual([
      undefined,
      'work',
      'home',
    ]);
    expect(kinds('adr').map(([kind]) => kind!.includes('home'))).toEqual([false, true]);
    expect(unpack(payload).fields).toEqual(
      expect.arrayContaining([
        { name: 'telephone', value: '+447700900123' },
        { name: 'telephone at work', value: '+442079460018' },
        { name: 'e-mail at home', value: 'home@garden.example' },
        { name: 'address at home', value: '2 Dune Row, Westland' },
      ]),
    );
  },
);

test('a semicolon in a name comes back from both versions, and from our own reading of them', () => {
  for (const version of ['3.0', '4.0']) {
    const payload = build('contact', { given: 'Wren; Ada', family: 'Ros\\e, x', version });
    const card = new ICAL.Component(ICAL.parse(payload) as unknown[]);
    if (version === '4.0') expect(card.getFirstPropertyValue('fn')).toBe('Wren; Ada Ros\\e, x');
    expect(unpack(payload).fields).toContainEqual({ name: 'name', value: 'Wren; Ada Ros\\e, x' });
  }
});

describe('addresses', () => {
  const page = (address: string) => build('page', { content: address });
  test.each([
    ['https://marrambay.example/bed 12', 'https://marrambay.example/bed%2012'],
    [
      'https://marrambay.example/Zürich?n=Ångström#é',
      'https://marrambay.example/Z%C3%BCrich?n=%C3%85ngstr%C3%B6m#%C3%A9',
    ],
    ['https://gärten.example:8080/x', 'https://xn--grten-gra.example:8080/x'],
    ['https://marrambay.example/a%20b|c', 'https://marrambay.example/a%20b%7Cc'],
    ['https://marrambay.example/v?x=1&y=[2]', 'https://marrambay.example/v?x=1&y=[2]'],
  ])('%s is written as %s', (given, wanted) => {
    expect(page(given)).toBe(wanted);
    expect(page(wanted)).toBe(wanted);
  });
  test('a bare percent sign and a space in the name are flagged', () => {
    expect(() => page('https://marrambay.example/100%')).toThrow(/%/);
    expect(() => page('https://marrambay.example/100%zz')).toThrow(/%/);
    expect(() => page('https://marram bay.example/')).toThrow(/space/);
  });
  test('whatever is written can be sent, and says what it said', () => {
    fc.assert(
      fc.property(words, words, (path, value) => {
        const address = `https://marrambay.example/${path.replace(/[%?#/\\]|^\.+$/g, 'x')}?v=${value.replace(/[%&#+]/g, 'x')}`;
        const written = page(address);
        expect(written).toMatch(/^[\x21-\x7e]+$/);
        const [mine, theirs] = [new URL(written), new URL(address)];
        expect(mine.searchParams.get('v')).toBe(theirs.searchParams.get('v'));
        expect(decodeURIComponent(mine.pathname)).toBe(decodeURIComponent(theirs.pathname));
      }),
    );
  });
  test('mails and messages come back from a parser that is not ours', () => {
    fc.assert(
      fc.property(words, words, (subject, body) => {
        const mail = new URL(build('mail', { to: 'ines@marrambay.example', subject, body }));
        expect([
          mail.pathname,
          mail.searchParams.get('subject'),
          mail.searchParams.get('body'),
        ]).toEqual(['ines@marrambay.example', subject, body]);
        const message = new URL(build('message', { number: '+442079460018', body }));
        expect([message.pathname, message.searchParams.get('body')]).toEqual([
          '+442079460018',
          body,
        ]);
      }),
    );
  });
});

describe('Wi-Fi', () => {
  test('names and passwords keep their spaces', () => {
    const stamp = stampOf({
      does: 'wifi',
      parts: [],
      fields: {
        network: [{ kind: 'column', column: 'c1' }],
        password: [{ kind: 'column', column: 'c2' }],
      },
    });
    const values: Values = { c1: ' Dune House ', c2: '  pass word ' };
    expect(contentOf(stamp, values)).toEqual({
      state: 'said',
      payload: 'WIFI:T:WPA;S: Dune House ;P:  pass word ;;',
    });
    expect(contentOf(stamp, { c1: '   ', c2: 'x' })).toEqual({ state: 'blank', columns: ['c1'] });
  });
  test('any name and password come back from a state machine of their own', () => {
    /** The format read letter by letter; a backslash escapes the next character. */
    const parse = (text: string) => {
      const fields: Record<string, string> = {};
      let [name, value, inName] = ['', '', true];
      for (let i = 'WIFI:'.length; i < text.length; i++) {
        if (inName && text[i] === ':') inName = false;
        else if (inName) name += text[i];
        else if (text[i] === '\\') value += text[++i];
        else if (text[i] === ';') {
          fields[name] = value;
          [name, value, inName] = ['', '', true];
        } else value += text[i];
      }
      return fields;
    };
    fc.assert(
      fc.property(words, words, (network, password) => {
        expect(parse(build('wifi', { network, password }))).toMatchObject({
          T: 'WPA',
          S: network,
          P: password,
        });
      }),
    );
  });
});

describe('an example with values in another form', () => {
  const values: Values = { c1: 'DH-0142', c2: 'Ines Okafor', c3: '2026-06-06' };
  test.each([
    ['https://a.example/v/DH-0142?n=Ines Okafor', 'c2', 'Ines Okafor', 'Ines%20Okafor'],
    ['https://a.example/v/DH-0142?n=ines-okafor', 'c2', 'ines-okafor', 'Ines%20Okafor'],
    ['https://a.example/v/DH-0142?d=06.06.2026', 'c3', '06.06.2026', '2026-06-06'],
    ['https://a.example/v/DH-0142?d=20260606', 'c3', '20260606', '2026-06-06'],
    ['https://a.example/n/Ines%20Okafor/dh0142', 'c1', 'dh0142', 'DH-0142'],
  ])('%s: it is told', (sample, column, written, becomes) => {
    expect(proposeParts(sample, values, columns, true).otherwise).toEqual([
      { column, written, becomes },
    ]);
  });
  test('in a text too, and not where nothing is otherwise', () => {
    expect(proposeParts('INES OKAFOR, DH-0142', values, columns, false).otherwise).toEqual([
      { column: 'c2', written: 'INES OKAFOR', becomes: 'Ines Okafor' },
    ]);
    expect(proposeParts('on 6 June 2026', values, columns, false).otherwise).toEqual([
      { column: 'c3', written: '6 June 2026', becomes: '2026-06-06' },
    ]);
    expect(
      proposeParts('https://a.example/v/DH-0142?n=Ines+Okafor', values, columns, true).otherwise,
    ).toEqual([]);
  });
});
