import { createPublicKey, verify } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { proposeParts } from '../../../src/core/payload/by-example';
import { landed, landingAfter } from '../../../src/core/base/landing';
import {
  proofFits,
  proofLengths,
  proofOf,
  publicKeyOf,
  signatureFits,
} from '../../../src/core/base/proof';
import { purposes } from '../../../src/core/payload/purposes';
import {
  contentOf,
  firstStamp,
  judgeStamp,
  stampSchema,
  type Part,
  type Stamp,
} from '../../../src/core/payload/stamp';
import type { Column, Values } from '../../../src/core/records/columns';

const columns: Column[] = ['Badge no', 'Name', 'Mail', 'Site', 'Born'].map((name, i) => ({
  id: `c${i + 1}`,
  name,
  role: i === 0 ? ('key' as const) : ('text' as const),
}));
const ines: Values = {
  c1: 'DH-0142',
  c2: 'Ines Okafor & Co',
  c3: 'ines@marrambay.example',
  c4: 'Dune House',
  c5: '',
};
const t = (text: string): Part => ({ kind: 'text', text });
const c = (column: string): Part => ({ kind: 'column', column });
const stamp = (does: string, parts: Part[], more: Partial<Stamp> = {}): Stamp => ({
  ...firstStamp(columns),
  does,
  parts,
  ...more,
});
const payload = (s: Stamp, values = ines): string => {
  const content = contentOf(s, values);
  return content.state === 'said'
    ? content.payload
    : `${content.state}: ${JSON.stringify(content)}`;
};

describe('values in addresses', () => {
  test('are encoded for where they land', () => {
    expect(
      payload(
        stamp('page', [
          t('https://marrambay.example/'),
          c('c4'),
          t('?n='),
          c('c2'),
          t('#'),
          c('c4'),
        ]),
      ),
    ).toBe('https://marrambay.example/Dune%20House?n=Ines%20Okafor%20%26%20Co#Dune%20House');
    expect(
      payload(
        stamp('page', [t('https://marrambay.example/'), c('c4'), t('?n='), c('c2')], {
          spaces: 'plus',
        }),
      ),
    ).toBe('https://marrambay.example/Dune%20House?n=Ines+Okafor+%26+Co');
    expect(payload(stamp('page', [c('c3')]))).toBe('ines@marrambay.example');
    expect(payload(stamp('text', [t('a b '), c('c4')]))).toBe('a b Dune House');
  });
  test('inside an address inside an address, once more for each', () => {
    expect(landingAfter('https://a.example/x?go=https%3A%2F%2Fb.example%2F%3Fn%3D')).toEqual({
      where: 'query',
      levels: 2,
    });
    expect(
      payload(
        stamp('page', [t('https://a.example/?go=https%3A%2F%2Fb.example%2F%3Fn%3D'), c('c4')]),
      ),
    ).toBe('https://a.example/?go=https%3A%2F%2Fb.example%2F%3Fn%3DDune%2520House');
  });
  test('any value comes back by decoding as often', () => {
    fc.assert(
      fc.property(
        fc.string({ unit: 'grapheme', maxLength: 20 }),
        fc.integer({ min: 1, max: 3 }),
        (value, levels) => {
          let back = landed(value, { where: 'query', levels }, 'percent');
          for (let i = 0; i < levels; i++) back = decodeURIComponent(back);
          expect(back).toBe(value);
          expect(
            new URL(
              `https://a.example/?v=${landed(value, { where: 'query', levels: 1 }, 'plus')}`,
            ).searchParams.get('v'),
          ).toBe(value);
        },
      ),
    );
  });
});

describe('purposes', () => {
  const fields = (does: string, map: Record<string, Part[]>): Stamp =>
    stamp(does, [], { fields: map });
  test('contact, as vCard 3 and 4', () => {
    const three = payload(
      fields('contact', {
        given: [t('Ines')],
        family: [t('Okafor; jr')],
        mail: [c('c3')],
        phone: [t('+44 20 7946 0000')],
        note: [c('c5')],
      }),
    );
    expect(three.split('\r\n')).toEqual([
      'BEGIN:VCARD',
      'VERSION:3.0',
      'N:Okafor\\; jr;Ines;;;',
      'FN:Ines Okafor\\; jr',
      'TEL;TYPE=CELL:+442079460000',
      'EMAIL;TYPE=INTERNET:ines@marrambay.example',
      'END:VCARD',
    ]);
    expect(
      payload(
        fields('contact', { given: [t('Ines')], phone: [t('+442079460000')], version: [t('4.0')] }),
      ),
    ).toContain('TEL;VALUE=uri:tel:+442079460000');
  });
  test.each([
    [
      'mail',
      { to: [c('c3')], subject: [t('Badge '), c('c1')], body: [t('a&b\nc')] },
      'mailto:ines@marrambay.example?subject=Badge%20DH-0142&body=a%26b%0D%0Ac',
    ],
    ['call', { number: [t('+44 (20) 7946-0000')] }, 'tel:+442079460000'],
    [
      'message',
      { number: [t('07946')], body: [t('I am here')], dial: [t('as-written')] },
      'sms:07946?body=I%20am%20here',
    ],
    [
      'wifi',
      { network: [t('Glass;house')], password: [t('a:b"c')] },
      'WIFI:T:WPA;S:Glass\\;house;P:a\\:b\\"c;;',
    ],
    ['wifi', { network: [t('Open')] }, 'WIFI:T:nopass;S:Open;;'],
    [
      'place',
      { latitude: [t('54,0871')], longitude: [t('-0.5')], label: [c('c4')] },
      'geo:54.0871,-0.5?q=54.0871,-0.5(Dune%20House)',
    ],
    ['product', { gtin: [t('2000411000017')] }, '2000411000017'],
    [
      'product',
      { gtin: [t('2000411000017')], lot: [t('AB')], expiry: [t('2026-12-31')] },
      '(01)02000411000017(17)261231(10)AB',
    ],
    [
      'product',
      {
        gtin: [t('2000411000017')],
        lot: [t('AB')],
        form: [t('link')],
        base: [t('https://id.marrambay.example')],
      },
      'https://id.marrambay.example/01/02000411000017/10/AB',
    ],
  ] as [string, Record<string, Part[]>, string][])('%s', (does, map, wanted) =>
    expect(payload(fields(does, map))).toBe(wanted),
  );
  test('event, as iCalendar', () => {
    const lines = payload(
      fields('event', {
        title: [t('Open weekend, day 1')],
        start: [t('2026-06-06 10:00')],
        end: [t('2026-06-06 17:30')],
        place: [c('c4')],
      }),
    ).split('\r\n');
    expect(lines).toEqual([
      'BEGIN:VCALENDAR',
      'VERSION:2.0',
      'PRODID:-//Hand Stamp//EN',
      'BEGIN:VEVENT',
      expect.stringMatching(/^UID:[0-9a-f]{16}$/),
      'DTSTAMP:20260606T000000Z',
      'SUMMARY:Open weekend\\, day 1',
      'DTSTART:20260606T100000',
      'DTEND:20260606T173000',
      'LOCATION:Dune House',
      'END:VEVENT',
      'END:VCALENDAR',
    ]);
    expect(payload(fields('event', { title: [t('a')], start: [t('20260606')] }))).toContain(
      'DTSTART;VALUE=DATE:20260606',
    );
  });
  test('what cannot be said is put in words, on the record', () => {
    const wrong = (does: string, map: Record<string, Part[]>) =>
      judgeStamp(fields(does, map), ines, columns);
    expect(wrong('call', { number: [c('c2')] })).toMatchObject({
      mark: 'look',
      reason: '“Ines Okafor & Co” is not a telephone number.',
    });
    expect(wrong('mail', { to: [c('c2')] })).toMatchObject({ mark: 'look' });
    expect(wrong('event', { title: [t('a')], start: [t('06/07/2026')] })).toMatchObject({
      mend: 'Choose in the stamp whether the day or the month comes first.',
    });
    expect(
      wrong('event', { title: [t('a')], start: [t('2026-02-02')], end: [t('2026-02-01')] }),
    ).toMatchObject({
      mend: 'Swap the two times.',
    });
    expect(wrong('place', { latitude: [t('91')], longitude: [t('1')] })).toMatchObject({
      mark: 'look',
    });
    expect(wrong('wifi', { network: [t('a')], security: [t('WPA')] })).toMatchObject({
      mark: 'look',
    });
    expect(wrong('contact', { given: [c('c5')] })).toEqual({
      mark: 'out',
      reason: 'no code: Born is blank',
    });
  });
  test('check in', () => {
    expect(
      payload(
        stamp('check-in', [t('https://marrambay.example/in/')], { fields: { who: [c('c1')] } }),
      ),
    ).toBe('https://marrambay.example/in/DH-0142');
  });
  test('each purpose can be kept in a document and says in words what is missing', () => {
    for (const { id } of purposes) {
      expect(stampSchema.safeParse(stamp(id, [])).success).toBe(true);
      expect([id, judgeStamp(stamp(id, []), ines, columns).mark]).toEqual([id, 'out']);
    }
  });
});

describe('proof of genuineness', () => {
  const key = Uint8Array.from({ length: 32 }, (_, i) => i * 7);
  test('belongs to its values and its key alone', () => {
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 4 }), (values) => {
        const proof = proofOf(values, key);
        expect(proof).toMatch(new RegExp(`^[0-9A-HJKMNP-TV-Z]{${proofLengths.shared}}$`));
        expect(proofFits(proof, values, key)).toBe(true);
        expect(proofFits(proof, [...values, ''], key)).toBe(false);
        expect(
          proofFits(
            proof,
            values,
            key.map((b) => b ^ 1),
          ),
        ).toBe(false);
      }),
    );
    // values must not run into each other
    expect(proofOf(['ab', 'c'], key)).not.toBe(proofOf(['a', 'bc'], key));
    expect(
      proofFits(
        proofOf(['a'], key).toLowerCase().replaceAll('0', 'o').replaceAll('1', 'l'),
        ['a'],
        key,
      ),
    ).toBe(true);
    expect(() => proofOf(['a'], new Uint8Array(4))).toThrow(/16 bytes/);
  });
  test('is a signature where anybody is to check it, by a public key and by another’s program', () => {
    const publicKey = publicKeyOf(key);
    const spki = createPublicKey({
      key: Buffer.concat([
        Buffer.from('302a300506032b6570032100', 'hex'),
        Buffer.from(publicKey, 'hex'),
      ]),
      format: 'der',
      type: 'spki',
    });
    const alphabet = '0123456789ABCDEFGHJKMNPQRSTVWXYZ';
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 4 }), fc.nat(102), (values, at) => {
        const proof = proofOf(values, key, 'public');
        expect(proof).toMatch(new RegExp(`^[0-9A-HJKMNP-TV-Z]{${proofLengths.public}}$`));
        expect(signatureFits(proof, values, publicKey)).toBe(true);
        expect(signatureFits(proof.toLowerCase(), values, publicKey)).toBe(true);
        expect(signatureFits(proof, [...values, ''], publicKey)).toBe(false);
        const other = proof[at] === '7' ? '8' : '7';
        const bent = proof.slice(0, at) + other + proof.slice(at + 1);
        expect(signatureFits(bent, values, publicKey)).toBe(false);
        expect(signatureFits(proof, values, publicKeyOf(key.map((b) => b ^ 1)))).toBe(false);
        // the independent witness: five bits a character, the last bit left over
        const bits = [...proof].map((c) => alphabet.indexOf(c).toString(2).padStart(5, '0'));
        const bytes = bits
          .join('')
          .match(/.{8}/g)!
          .map((b) => parseInt(b, 2));
        const said = values.map((v) => `${Buffer.byteLength(v)}:${v}`).join('');
        expect(verify(null, Buffer.from(said), spki, Buffer.from(bytes))).toBe(true);
      }),
      { numRuns: 40 },
    );
    for (const odd of ['', 'A', 'U'.repeat(103), '0'.repeat(103), 'Z'.repeat(104)])
      expect(signatureFits(odd, ['a'], publicKey)).toBe(false);
    expect(signatureFits(proofOf(['a'], key, 'public'), ['a'], 'no key')).toBe(false);
  });
  test('follows the address of a stamp', () => {
    const hex = Array.from(key, (b) => b.toString(16).padStart(2, '0')).join('');
    const made = payload(
      stamp('genuine', [t('https://marrambay.example/v/'), c('c1')], {
        fields: { signed: [c('c1'), c('c2')] },
        proofKey: hex,
      }),
    );
    expect(made).toBe(
      `https://marrambay.example/v/DH-0142?proof=${proofOf(['DH-0142', 'Ines Okafor & Co'], key)}`,
    );
    expect(
      judgeStamp(
        stamp('genuine', [t('https://marrambay.example')], { fields: { signed: [c('c1')] } }),
        ines,
        columns,
      ),
    ).toMatchObject({
      mark: 'look',
    });
  });
});

describe('by example', () => {
  const again = (sample: string, address: boolean) => {
    const proposal = proposeParts(sample, ines, columns, address);
    const content = contentOf(
      { ...stamp(address ? 'page' : 'text', proposal.parts), spaces: proposal.spaces },
      ines,
    );
    return { ...proposal, again: content.state === 'said' ? content.payload : content.state };
  };
  test('finds columns in an address, however they are encoded there', () => {
    for (const [sample, found] of [
      [
        'https://forms.example/f?id=DH-0142&name=Ines+Okafor+%26+Co&site=Dune+House',
        ['c1', 'c2', 'c4'],
      ],
      ['https://forms.example/f?id=DH-0142&name=Ines%20Okafor%20%26%20Co', ['c1', 'c2']],
      ['https://a.example/?go=https%3A%2F%2Fb.example%2F%3Fn%3DDune%2520House', ['c4']],
      ['https://marrambay.example/v/DH-0142', ['c1']],
    ] as const) {
      const result = again(sample, true);
      expect([sample, result.found.map((f) => f.column)]).toEqual([sample, found]);
      expect(result.again).toBe(sample);
    }
  });
  test('finds them in a text, the longer before the shorter', () => {
    expect(again('Ines Okafor & Co, Dune House (DH-0142)', false)).toMatchObject({
      again: 'Ines Okafor & Co, Dune House (DH-0142)',
      found: [{ column: 'c2' }, { column: 'c4' }, { column: 'c1' }],
    });
    expect(again('nothing of theirs', false).found).toEqual([]);
  });
  test('the record of the sample always gives the sample back', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('DH-0142', 'Dune House', 'Dune%20House', 'x', '&n=', '/', '?a='), {
          minLength: 1,
          maxLength: 8,
        }),
        (parts) => {
          const sample = `https://a.example/${parts.join('')}`;
          // as an address is written: a space in the sample is told, and encoded
          expect(again(sample, true).again).toBe(sample.replaceAll(' ', '%20'));
        },
      ),
    );
  });
});
