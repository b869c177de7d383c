import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  encode,
  expectedRead,
  explainFit,
  heldBy,
  symbologies,
  type EncodeOptions,
  type SymbologyId,
} from '../../../src/core/symbology';
import { gs1CheckDigit } from '../../../src/core/base/check-digit';
import { code128Words, functions } from '../../../src/core/symbology/linear/code-128';
import { expandUpcE } from '../../../src/core/symbology/linear/ean';
import { barsOf, readAll, symbolPgm, witness } from '../../helpers/barcode';

const bars = (id: SymbologyId, text: string, options?: EncodeOptions, row = 0): string => {
  const symbol = encode(id, text, options);
  return Array.from(symbol.modules.slice(row * symbol.columns, (row + 1) * symbol.columns)).join(
    '',
  );
};

/** Reads a symbol with its own format and compares with what its symbology says must be read. */
async function readsBack(
  id: SymbologyId,
  text: string,
  options: EncodeOptions = {},
): Promise<void> {
  const symbol = encode(id, text, options);
  const expected = expectedRead(symbol, options);
  const [read] = await readAll(symbolPgm(symbol, 3), { formats: [expected.format as 'Code128'] });
  expect([text, read?.text]).toEqual([text, expected.text]);
}

const digits = (length: number) =>
  fc.string({ unit: fc.constantFrom(...'0123456789'), minLength: length, maxLength: length });

describe('module by module against an independent writer', () => {
  const cases: [SymbologyId, string, string[], EncodeOptions?][] = [
    [
      'code-39',
      'Code39',
      ['DH-0142', 'ABCDEFGHIJKLMNOPQRSTUVWXYZ', '0123456789', '-. $/+%'],
      { wide: 2 },
    ],
    [
      'code-93',
      'Code93',
      ['DH-0142', 'ABCDEFGHIJKLMNOPQRSTUVWXYZ', '0123456789', '-. $/+%', 'Sea kale', 'a/b?c=d&e@f'],
    ],
    ['codabar', 'Codabar', ['A0123456789B', 'C-$:/.+D'], { wide: 2 }],
    ['itf', 'ITF', ['0123456789', '98765432101234', '55']],
    [
      'ean-13',
      'EAN13',
      [
        '2000411000017',
        ...Array.from('0123456789', (d) => `${d}00041100001${gs1CheckDigit(`${d}00041100001`)}`),
      ],
    ],
    ['ean-8', 'EAN8', ['20000004', '1234567', '9876543'], { addCheckDigit: true }],
    ['upc-a', 'UPCA', ['040000700418', '01234567890', '98765432109'], { addCheckDigit: true }],
    [
      'upc-e',
      'UPCE',
      [
        '0123450',
        '0123451',
        '0123452',
        '0123453',
        '0123454',
        '0123455',
        '0123456',
        '0123457',
        '0123458',
        '0123459',
        '1987653',
      ],
      { addCheckDigit: true },
    ],
  ];
  test.each(cases)('%s', async (id, format, texts, options) => {
    for (const text of texts) {
      const drawn = await witness(text, format, '');
      expect([text, bars(id, text, options)]).toEqual([text, barsOf(drawn).replace(/0+$/, '')]);
    }
  });

  test('Code 128: every pattern, by pairs of digits, capitals and control characters', async () => {
    for (let from = 0; from < 100; from += 10) {
      const text = Array.from({ length: 10 }, (_, i) => String(from + i).padStart(2, '0')).join('');
      expect(bars('code-128', text)).toBe(barsOf(await witness(text, 'Code128', '')));
    }
    for (const text of ['Dune House, bed no. 7', 'DH-0142', '\x01\x02\x1f', '~}|{abc'])
      expect([text, bars('code-128', text)]).toEqual([
        text,
        barsOf(await witness(text, 'Code128', '')),
      ]);
  });

  test('the guards of EAN and UPC are longer than the bars between them', () => {
    const long = bars('ean-13', '2000411000017', {}, 1);
    expect(long).toBe(`101${'0'.repeat(42)}01010${'0'.repeat(42)}101`);
    const upc = encode('upc-a', '040000700418');
    expect(Array.from(upc.modules.slice(95, 95 + 10)).join('')).toBe('1010001101');
    expect(upc.rowHeights).toEqual([69, 5]);
  });

  test('ITF-14, between its bearers', async () => {
    for (const text of ['12000411000014', '02000411000017', '98765432109871', '00000000000000']) {
      const whole = text.slice(0, 13) + gs1CheckDigit(text.slice(0, 13));
      const drawn = await witness(whole, 'ITF14', '');
      // the writer draws bearers at the sides too, five modules wide, and no quiet zone
      expect([text, bars('itf-14', whole, {}, 1).slice(10, -10)]).toEqual([
        text,
        barsOf(drawn, 30).slice(5, -5),
      ]);
    }
  });

  test('the bearer bars of ITF-14 run over the quiet zones, four modules thick', () => {
    const symbol = encode('itf-14', '12000411000014');
    expect(symbol.rowHeights).toEqual([4, 32, 4]);
    expect(symbol.modules.slice(0, symbol.columns).every((m) => m === 1)).toBe(true);
    expect(Array.from(symbol.modules.slice(symbol.columns, symbol.columns + 10)).join('')).toBe(
      '0000000000',
    );
  });
});

describe('read back by an independent reader', () => {
  const ascii = fc.string({
    unit: fc.integer({ min: 0, max: 127 }).map((c) => String.fromCharCode(c)),
    minLength: 1,
    maxLength: 20,
  });
  const latin = fc.string({
    unit: fc
      .integer({ min: 32, max: 255 })
      .filter((c) => c < 127 || c > 160)
      .map((c) => String.fromCharCode(c)),
    minLength: 1,
    maxLength: 14,
  });
  const capitals = fc.string({
    unit: fc.constantFrom(...'0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ-. $/+%'),
    minLength: 1,
    maxLength: 14,
  });
  const property = (
    id: SymbologyId,
    arbitrary: fc.Arbitrary<string>,
    options: EncodeOptions = {},
  ) =>
    test(`${id} ${JSON.stringify(options)}`, () =>
      fc.assert(
        fc.asyncProperty(arbitrary, (text) => readsBack(id, text, options)),
        { numRuns: 60 },
      ));

  property('code-128', ascii);
  property('code-128', latin);
  property(
    'code-39',
    capitals.filter((t) => t.trim() === t),
  );
  property(
    'code-39',
    ascii.filter((t) => t.length < 12),
    { fullAscii: true },
  );
  property('code-93', ascii);
  property(
    'codabar',
    fc.string({ unit: fc.constantFrom(...'0123456789-$:/.+'), minLength: 3, maxLength: 14 }),
  );
  property(
    'itf',
    fc.integer({ min: 3, max: 8 }).chain((n) => digits(n * 2)),
  );
  property(
    'itf-14',
    digits(13).map((d) => d + gs1CheckDigit(d)),
  );
  property(
    'ean-13',
    digits(12).map((d) => d + gs1CheckDigit(d)),
  );
  for (const [id, length] of [
    ['itf-14', 13],
    ['ean-13', 12],
    ['ean-8', 7],
    ['upc-a', 11],
    ['upc-e', 6],
  ] as const)
    property(id, digits(length), { addCheckDigit: true });
});

describe('function characters and options', () => {
  test('Code 128 says FNC1 to FNC3, and a reader sees FNC1 in first position', async () => {
    expect(code128Words(`${functions.FNC1}12`)).toEqual([105, 102, 12]);
    expect(code128Words(`a${functions.FNC2}b${functions.FNC3}`).slice(0, 5)).toEqual([
      104, 65, 97, 66, 96,
    ]);
    const [read] = await readAll(symbolPgm(encode('gs1-128', '(01)02000411000017'), 3), {
      formats: ['Code128'],
    });
    expect([read!.text, read!.identifier]).toEqual(['0102000411000017', ']C1']);
    expect(() => encode('code-128', `${functions.FNC1}12345`)).toThrow(/GS1-128/);
    expect(encode('code-128', `${functions.FNC3}A`).hri![0]!.text).toBe(' A');
  });

  test('check characters of Code 39 and Codabar are read with the rest', async () => {
    await readsBack('code-39', 'DH-0142', { checkCharacter: true });
    await readsBack('codabar', '0142-7', { checkCharacter: true });
    // modulo 43 of D H - 0 1 4 2, modulo 16 of A 0 1 4 2 A
    expect(encode('code-39', 'DH-0142', { checkCharacter: true }).facts.said).toBe('DH-0142U');
    // the check of 0 1 4 2 between A and A is 9: 16 + 0 + 1 + 4 + 2 + 16 + 9 = 48
    expect(encode('codabar', '0142', { checkCharacter: true }).modules).toEqual(
      encode('codabar', 'A01429A').modules,
    );
  });
});

describe('choices and refusals', () => {
  test('Code 128 takes the fewest codewords', () => {
    const alphabet = fc
      .array(fc.constantFrom('1', '23', 'a', 'B', '\x05', 'é'), { minLength: 1, maxLength: 8 })
      .map((a) => a.join(''));
    fc.assert(
      fc.property(alphabet, (text) => {
        expect(code128Words(text).length).toBeLessThanOrEqual(greedyLength(text));
      }),
      { numRuns: 300 },
    );
    expect(code128Words('123456')).toHaveLength(4);
    expect(code128Words('1234567')).toHaveLength(6);
    expect(code128Words('A1234')).toHaveLength(5);
    expect(code128Words('éèêëéè').length).toBe(1 + 2 + 6);
  });

  test('check digits are verified, and added only where that is said', () => {
    expect(encode('ean-13', '200041100001', { addCheckDigit: true }).payload).toBe('2000411000017');
    expect(heldBy('ean-13', '200041100001', { addCheckDigit: true })).toBe('2000411000017');
    // the length says nothing: each of these may be a whole number with a mistake in it
    for (const [id, short] of [
      ['ean-13', '200041100001'],
      ['ean-8', '2000000'],
      ['upc-a', '04000070041'],
      ['upc-e', '123450'],
      ['itf-14', '4006381333932'],
      ['itf-14', '2000411000017'],
      ['gs1-databar', '4006381333932'],
      ['gs1-databar', '40063813339'],
    ] as const) {
      expect([id, explainFit(id, short).fits]).toEqual([id, false]);
      expect(() => encode(id, short)).toThrow();
      expect(heldBy(id, short)).toBe(short);
    }
    // and a whole number stays whole where digits are added to others
    expect(heldBy('ean-13', '2000411000017', { addCheckDigit: true })).toBe('2000411000017');
    expect(explainFit('ean-13', '2000411000010', { addCheckDigit: true }).fits).toBe(false);
    expect(explainFit('ean-13', '2000411000010')).toEqual({
      fits: false,
      reason: 'The check digit is 0, but should be 7.',
      position: 12,
      mend: 'Correct the last digit to 7.',
    });
    expect(explainFit('ean-13', '2000-411000017')).toMatchObject({
      position: 4,
      mend: 'Remove hyphens and spaces.',
    });
    expect(explainFit('ean-13', '40000070041')).toMatchObject({
      mend: expect.stringContaining('zeros were lost'),
    });
    expect(explainFit('ean-13', '040000700418')).toMatchObject({
      mend: expect.stringContaining('put a 0 in front'),
    });
    expect(explainFit('ean-8', '2000A')).toMatchObject({ fits: false, position: 4 });
    expect(explainFit('upc-e', '2123456', { addCheckDigit: true })).toMatchObject({
      mend: 'Use UPC-A.',
    });
  });

  test('each refusal names the character, its place and a mend', () => {
    expect(explainFit('code-39', 'DH-a1')).toMatchObject({
      position: 3,
      mend: 'Change it to capitals.',
    });
    expect(explainFit('code-128', 'Σοφία')).toMatchObject({
      position: 0,
      mend: 'Remove it, or use a QR code.',
    });
    expect(explainFit('itf', '123')).toMatchObject({ mend: 'Put a zero in front.' });
    expect(explainFit('codabar', '12x')).toMatchObject({ position: 2 });
    expect(explainFit('code-128', 'x'.repeat(100))).toMatchObject({
      mend: 'Shorten it, or use a QR code.',
    });
    for (const id of Object.keys(symbologies) as SymbologyId[])
      expect([id, explainFit(id, '').fits]).toEqual([id, false]);
  });

  test('UPC-E stands for the right twelve digits, and twelve shorten back', () => {
    expect(expandUpcE('01234505')).toBe('012000003455');
    fc.assert(
      fc.property(digits(6), (six) => {
        const eight = heldBy('upc-e', six, { addCheckDigit: true });
        expect(encode('upc-e', expandUpcE(eight)).payload).toSatisfy(
          (back: unknown) => expandUpcE(String(back)) === expandUpcE(eight),
        );
      }),
    );
  });
});

/**
 * What a careful person would do by hand: set C for even runs of four digits or more, else B,
 * shifts for single control characters.
 */
function greedyLength(text: string): number {
  let words = 1;
  let set = /^\d{4}/.test(text) || /^\d\d$/.test(text) ? 'C' : 'B';
  for (let i = 0; i < text.length;) {
    const run = /^\d+/.exec(text.slice(i))?.[0].length ?? 0;
    if (set === 'C' && run >= 2) {
      words++;
      i += 2;
      continue;
    }
    if (set === 'C') {
      set = 'B';
      words++;
    } else if (run >= 4 && run % 2 === 0) {
      set = 'C';
      words++;
      continue;
    }
    const code = text.charCodeAt(i);
    words += code >= 128 || code < 32 ? 2 : 1;
    i++;
  }
  return words;
}
