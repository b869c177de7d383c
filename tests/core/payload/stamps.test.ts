import { describe, expect, test } from 'vitest';
import { doorTrouble } from '../../../src/core/payload/door';
import { isPublicAddress } from '../../../src/core/payload/public-address';
import { markPart, proposeParts } from '../../../src/core/payload/by-example';
import { keepContent, useContent } from '../../../src/core/payload/kept';
import { mendsFor } from '../../../src/core/payload/misfit-mends';
import { purposeOf, purposes } from '../../../src/core/payload/purposes';
import { maskPayload, saysSecret, withoutSecretText } from '../../../src/core/payload/secrets';
import { contentOf, firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import { unpack } from '../../../src/core/payload/unpack';
import type { Column } from '../../../src/core/records/columns';
import { sheetFor, stampFor } from '../../../src/core/payload/sheets';
import { workOut } from '../../../src/core/records/worked';
import { explainFit } from '../../../src/core/symbology';

const columns: Column[] = [
  { id: 'c1', name: 'Badge no', role: 'key' },
  { id: 'c2', name: 'Name', role: 'name' },
  { id: 'c3', name: 'Token', role: 'text', secret: true },
];
const values = { c1: 'DH-1', c2: 'Ines Bell', c3: 'k7 m&q' };
const stamp: Stamp = {
  ...firstStamp(columns),
  does: 'page',
  parts: [
    { kind: 'text', text: 'https://m.example/' },
    { kind: 'column', column: 'c1' },
    { kind: 'text', text: '?t=' },
    { kind: 'column', column: 'c3' },
  ],
};

describe('a payload taken apart', () => {
  const fields = (payload: string) =>
    Object.fromEntries(unpack(payload).fields.map((f) => [f.name, f.value]));
  const build = (id: string, f: Record<string, string>) => {
    const purpose = purposeOf(id);
    return purpose.build(
      Object.fromEntries(purpose.fields.map((field) => [field.id, f[field.id] ?? ''])),
    );
  };

  test('gives back what each purpose was built from', () => {
    expect(
      fields(
        build('contact', {
          given: 'Ines',
          family: 'Bell; the Elder',
          phone: '+44 20 7946 0000',
          mail: 'i@p.example',
          city: 'Eelmouth',
        }),
      ),
    ).toMatchObject({
      name: 'Ines Bell; the Elder',
      telephone: '+442079460000',
      'e-mail': 'i@p.example',
      address: 'Eelmouth',
    });
    expect(
      fields(build('contact', { given: 'Ines', phone: '+442079460000', version: '4.0' })),
    ).toMatchObject({
      telephone: '+442079460000',
    });
    expect(
      fields(build('mail', { to: 'a@b.example', subject: 'Tea & cake', body: 'one\ntwo' })),
    ).toEqual({ to: 'a@b.example', subject: 'Tea & cake', text: 'one\r\ntwo' });
    expect(fields(build('wifi', { network: 'Dune; House', password: 'a:b\\c' }))).toEqual({
      'protected by': 'WPA',
      network: 'Dune; House',
      password: 'a:b\\c',
    });
    expect(fields(build('place', { latitude: '51.5', longitude: '-0.1' }))).toMatchObject({
      latitude: '51.5',
      longitude: '-0.1',
    });
    expect(
      fields(
        build('event', { title: 'Grafting, basics', start: '2026-11-28 14:00', place: 'Shed' }),
      ),
    ).toMatchObject({ title: 'Grafting, basics', begins: '2026-11-28 14:00', place: 'Shed' });
    expect(fields('https://m.example/v/DH%201?t=a+b#top')).toEqual({
      page: 'v/DH 1',
      t: 'a b',
      'place on the page': 'top',
    });
  });

  test('says what a phone would do', () => {
    expect(unpack('tel:+442079460000').does).toBe('offer to call');
    expect(unpack('www.marrambay.example/x').does).toContain('no https://');
    expect(unpack('DH-0142')).toEqual({ does: 'show it as text', fields: [] });
    expect(unpack('https://[').fields).toEqual([]);
  });

  test('reads GS1 elements, scanned or in brackets, and a Digital Link', () => {
    const product = { '(01) product number': '02000411000017', '(10) lot': 'AB1' };
    expect(fields('(01)02000411000017(10)AB1')).toEqual(product);
    expect(fields('010200041100001710AB1')).toEqual(product);
    expect(fields('https://id.marrambay.example/01/02000411000017/10/AB1')).toEqual(product);
    expect(unpack('2000411000017').fields).toEqual([]);
  });
});

describe('secrets', () => {
  test('are masked wherever they stand in a payload, as they are or encoded', () => {
    const content = contentOf(stamp, values);
    const payload = content.state === 'said' ? content.payload : '';
    expect(payload).toBe('https://m.example/DH-1?t=k7%20m%26q');
    expect(maskPayload(payload, stamp, values, columns)).toBe('https://m.example/DH-1?t=••••••');
    expect(maskPayload(payload, stamp, values, columns, new Set(['c3']))).toBe(payload);
    expect(
      maskPayload('https://m.example/?proof=abc123', { ...stamp, does: 'genuine' }, {}, columns),
    ).toBe('https://m.example/?proof=••••••');
    expect(maskPayload('WIFI:T:WPA;S:net;P:a\\;b;;', { ...stamp, does: 'wifi' }, {}, columns)).toBe(
      'WIFI:T:WPA;S:net;P:••••••;;',
    );
  });

  test('are not printed as text under bars unless that was asked for', () => {
    const bars: Stamp = { ...stamp, symbology: 'code-128' };
    expect(saysSecret(bars, columns)).toBe(true);
    expect(withoutSecretText(bars, columns).look.hri).toBe('none');
    expect(
      withoutSecretText({ ...bars, look: { ...bars.look, hri: 'below' } }, columns).look.hri,
    ).toBe('below');
    expect(
      withoutSecretText({ ...bars, parts: [{ kind: 'column', column: 'c1' }] }, columns).look.hri,
    ).toBeUndefined();
  });
});

describe('contents kept for other lists', () => {
  test('find their columns by name, then by what they are for; what is missing is told', () => {
    const kept = keepContent(stamp, columns);
    const other: Column[] = [
      { id: 'x1', name: 'Tag', role: 'key' },
      { id: 'x2', name: 'token', role: 'text' },
    ];
    expect(useContent(kept, other)).toMatchObject({
      missing: [],
      content: { does: 'page', parts: [{}, { column: 'x1' }, {}, { column: 'x2' }] },
    });
    expect(useContent(kept, other.slice(0, 1)).missing).toEqual(['Token']);
  });
});

describe('by example', () => {
  test('a part pointed at becomes a column where nothing was found', () => {
    const found = proposeParts('https://m.example/ines-b/DH-1', values, columns, true);
    const marked = markPart(found, 'ines-b', 'c2');
    expect(marked.parts).toEqual([
      { kind: 'text', text: 'https://m.example/' },
      { kind: 'column', column: 'c2' },
      { kind: 'text', text: '/' },
      { kind: 'column', column: 'c1' },
    ]);
    expect(markPart(marked, 'not there', 'c2')).toBe(marked);
  });
});

describe('values that a symbology cannot say', () => {
  const apply = (steps: Parameters<typeof workOut>[0]['steps'], text: string) =>
    workOut(
      { source: { kind: 'join', parts: [{ kind: 'column', column: 'v' }] }, steps },
      { v: text },
      '',
      { position: 0, secret: () => '', address: () => '', lookup: () => '' },
    );

  test.each([
    ['code-39', ['dh-1', 'dh-2']],
    ['itf', ['123', '4567']],
    ['ean-13', ['40000700418', '12000003455']],
    ['codabar', ['Lot 12', 'Lot 7']],
  ] as const)('%s is mended so that every value fits', (symbology, texts) => {
    const mend = mendsFor(texts)(symbology)!;
    expect(mend.misfits).toBe(0);
    for (const text of texts)
      expect(explainFit(symbology, apply(mend.steps, text)).fits).toBe(true);
  });

  test('two values are never made the same, and nothing is offered that does not help', () => {
    expect(mendsFor(['a-1', 'A-1'])('code-39')).toBeUndefined();
    expect(mendsFor(['ABC', 'DEF'])('ean-13')).toBeUndefined();
    expect(mendsFor(['anything'])('qr')).toBeUndefined();
  });

  test('of very many values what few of them need is found, and what is left is told of all', () => {
    const many = Array.from({ length: 5000 }, (_, i) => (i % 1250 === 7 ? `a-${i}` : `A-${i}`));
    const mends = mendsFor(many);
    expect(mends('code-39')).toMatchObject({ steps: [{ kind: 'case' }], misfits: 0 });
    expect(mends('qr')).toBeUndefined();
    // nine in ten are fixed by capitals; characters that Code 39 lacks stay
    const rest = mendsFor(many.map((text, i) => (i % 10 === 3 ? `${text}ß` : `x${text}`)));
    const { steps, misfits } = rest('code-39')!;
    expect(steps).toMatchObject([{ kind: 'case' }]);
    expect(misfits).toBeLessThanOrEqual(500);
    // and the same for the next code type, by the values that were fixed before
    expect(rest('code-93')!.misfits).toBe(misfits);
    // the last two would be one
    expect(mendsFor([...many, 'a-17'])('code-39')).toBeUndefined();
  });
});

describe('blank sheets', () => {
  test.each(purposes.map((p) => p.id))('%s: a row filled in gives a code', (purpose) => {
    const sheet = sheetFor(purpose);
    const own = sheet.map((c, i): Column => ({ id: `c${i + 1}`, name: c.heading, role: c.role }));
    const samples: Record<string, string> = {
      content: 'https://m.example/1',
      to: 'a@b.example',
      mail: 'a@b.example',
      number: '+442079460000',
      phone: '+442079460000',
      latitude: '51',
      longitude: '0',
      start: '2026-11-28',
      end: '',
      gtin: '2000411000017',
      expiry: '2027-01-31',
      lot: 'A1',
      serial: '7',
    };
    const made = stampFor(purpose, firstStamp(own), own);
    const row = Object.fromEntries(
      sheet.map((c, i) => [own[i]!.id, c.field ? (samples[c.field] ?? 'word') : `k${i}`]),
    );
    const content = contentOf({ ...made, proofKey: '00'.repeat(16) }, row);
    expect([purpose, content.state]).toEqual([purpose, 'said']);
    expect(new Set(sheet.map((c) => c.heading)).size).toBe(sheet.length);
  });
});

test('addresses that the public internet does not reach are told from those it does', () => {
  for (const ip of [
    '10.1.2.3',
    '127.0.0.1',
    '169.254.1.1',
    '192.168.0.9',
    '100.64.0.1',
    '0.0.0.0',
    '224.0.0.1',
    '::1',
    'fe80::1',
    'fd00::1',
    '::ffff:10.0.0.1',
    '2001:db8::1',
    '::7f00:1',
    '::10.0.0.1',
    '::ffff:7f00:1',
    '64:ff9b::a00:1',
    '2002:7f00:1::',
    '2001::1',
    'fec0::1',
    '192.88.99.1',
    '(no email address)',
    '',
  ])
    expect([ip, isPublicAddress(ip)]).toEqual([ip, false]);
  for (const ip of ['8.8.4.4', '93.184.215.14', '2606:4700::1111', '::ffff:8.8.8.8'])
    expect([ip, isPublicAddress(ip)]).toEqual([ip, true]);
  expect(doorTrouble('https://marrambay.example/1')?.kind).toBe('reserved');
});
