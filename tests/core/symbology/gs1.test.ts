import { describe, expect, test } from 'vitest';
import { encode, EncodeError, expectedRead, explainFit, type SymbologyId } from '../../../src/core';
import { digitalLink, parseDigitalLink } from '../../../src/core/symbology/gs1/digital-link';
import {
  bracketed,
  checkPair,
  elementString,
  parseElements,
} from '../../../src/core/symbology/gs1/elements';
import { identifiers } from '../../../src/core/symbology/gs1/identifiers';
import { gs1CheckDigit } from '../../../src/core/base/check-digit';
import { barsOf, differences, readAll, symbolPgm, witness } from '../../helpers/barcode';

const sample = '(01)02000411000017(17)261231(10)AB-7(21)12';
const fault = (text: string): EncodeError => {
  try {
    parseElements(text);
  } catch (error) {
    return error as EncodeError;
  }
  throw new Error(`${text} was taken`);
};

describe('element strings', () => {
  test('are parsed from brackets and from scanned data alike', () => {
    const elements = parseElements(sample);
    expect(elements.map(({ ai }) => ai)).toEqual(['01', '17', '10', '21']);
    expect(elementString(elements)).toBe('01020004110000171726123110AB-7\x1d2112');
    expect(parseElements(elementString(elements))).toEqual(elements);
    expect(bracketed(elements)).toBe(sample);
  });

  test('a bracket within a value stays in it unless an identifier stands in the brackets', () => {
    expect(parseElements('(10)A(5)B(21)7')).toEqual([
      { ai: '10', value: 'A(5)B' },
      { ai: '21', value: '7' },
    ]);
  });

  test('GTINs of 8, 12 and 13 digits are filled up with zeros', () => {
    expect(parseElements('(01)2000411000017')[0]!.value).toBe('02000411000017');
    expect(parseElements('(01)20000004')[0]!.value).toBe('00000020000004');
  });

  test.each([
    ['(01)02000411000010', 'check-digit', 17, 'Correct it to 7.'],
    ['(05)123', 'character', 0, 'Check the number in brackets.'],
    ['(10)' + 'A'.repeat(21), 'length', 4, 'Shorten it by 1.'],
    ['(10)Zoë', 'character', 6, 'Remove it.'],
    ['(17)261331', 'character', 6, 'Write year, month and day in two digits each.'],
    ['(17)260230', 'character', 8, 'Write year, month and day in two digits each.'],
    ['(4321)2', 'character', 6, 'Write 0 or 1.'],
    ['(02)02000411000017', 'length', 0, 'Add (37), or use (01).'],
    ['(10)A(10)B', 'character', 0, 'Keep one of the two.'],
    ['(7011)26010112', 'length', 12, 'Pad it.'],
    ['(8008)2601011', 'length', 6, 'Pad it to 8.'],
    ['(8008)260101123', 'length', 14, 'Pad it.'],
    [
      '0102000411000017\x1dxx',
      'character',
      17,
      'Begin each value with its identifier, as in (01)02000411000017(10)AB.',
    ],
    ['', 'empty', undefined, 'Give it a value.'],
  ] as const)('%s is refused', (text, kind, position, mend) => {
    expect(fault(text)).toMatchObject({ kind, position, mend });
  });

  test('a date may have day 00, a dated time may not', () => {
    expect(parseElements('(17)260200')[0]!.value).toBe('260200');
    expect(fault('(7003)2602001200').position).toBe(10);
  });

  test('the check pair of a model number is that of the published example', () => {
    expect(checkPair('1987654Ad4X4bL5ttr2310c')).toBe('2K');
  });

  test('no identifier is the beginning of another', () => {
    const all = [...identifiers.keys()];
    for (const ai of all)
      expect(all.filter((other) => other !== ai && other.startsWith(ai))).toEqual([]);
  });

  test('an independent writer takes a least value of every identifier, and refuses one that is too long', async () => {
    // identifiers of which this writer refuses the least value that we take; the other six are left
    // out of the comparison
    const odd: string[] = [];
    for (const { ai, parts } of identifiers.values()) {
      if (['02', '37', '8030', '8110', '8112', '03'].includes(ai)) continue;
      const value = parts
        .map((p) => sampleOf(p, p.whole ? p.least : Math.max(p.least, 1)))
        .join('');
      let known = true;
      try {
        await witness(`(${ai})${value}`, 'DataMatrix', 'gs1');
      } catch {
        known = false;
        odd.push(ai);
      }
      expect(explainFit('gs1-data-matrix', `(${ai})${value}`)).toEqual({ fits: true });
      const long = value + '1'.repeat(100);
      expect([ai, explainFit('gs1-data-matrix', `(${ai})${long}`).fits]).toEqual([ai, false]);
      if (known) await expect(witness(`(${ai})${long}`, 'DataMatrix', 'gs1')).rejects.toThrow();
    }
    expect(odd).toEqual([]);
  });
});

function sampleOf(part: { set: string; check?: string }, length: number): string {
  if (length === 0) return '';
  if (part.check === 'check')
    return '0'.repeat(length - 2) + '1' + gs1CheckDigit('0'.repeat(length - 2) + '1');
  if (part.check === 'date') return '260101';
  if (part.check === 'time') return '2601011200';
  if (part.check === 'pair') return `AB${checkPair('AB')}`;
  return part.set === 'N' ? '1'.repeat(length) : 'A'.repeat(length);
}

describe('GS1 Digital Link', () => {
  test('is written from elements and read back into them', () => {
    const address = digitalLink(parseElements(sample), 'https://id.marrambay.example/');
    expect(address).toBe('https://id.marrambay.example/01/02000411000017/10/AB-7/21/12?17=261231');
    expect(bracketed(parseDigitalLink(address))).toBe('(01)02000411000017(10)AB-7(21)12(17)261231');
    expect(
      bracketed(
        parseDigitalLink('https://marrambay.example/shop/01/2000411000017/10/A%2FB?lang=en'),
      ),
    ).toBe('(01)02000411000017(10)A/B');
  });

  test('a wrong one is refused', () => {
    expect(() => parseDigitalLink('https://marrambay.example/p/7')).toThrow(/holds no GS1 key/);
    expect(() => parseDigitalLink('https://marrambay.example/01/02000411000017/21/1/10/A')).toThrow(
      /may not stand here/,
    );
    expect(() => parseDigitalLink('https://marrambay.example/01/02000411000010')).toThrow(
      /should be 7/,
    );
    expect(explainFit('gs1-qr', 'https://marrambay.example/x')).toMatchObject({ fits: false });
  });
});

describe('symbols', () => {
  test.each([
    ['gs1-128', 'Code128'],
    ['gs1-data-matrix', 'DataMatrix'],
    ['gs1-qr', 'QRCode'],
  ] as const)('%s is read back as GS1 data', async (id, format) => {
    for (const text of [sample, '(01)02000411000017', '(21)abc(10)12']) {
      const symbol = encode(id, text);
      const expected = expectedRead(symbol);
      const [read] = await readAll(symbolPgm(symbol, 4), { formats: [format] });
      expect([read?.text, read?.identifier]).toEqual([expected.text, expected.identifier]);
      expect(expected.identifier).toMatch(/\](C1|d2|Q3)/);
    }
  });

  test('GS1-128, GS1 Data Matrix and GS1 QR equal an independent writer', async () => {
    for (const text of [
      '(01)02000411000017',
      '(00)020004110000000017',
      '(01)02000411000017(10)AB',
    ]) {
      expect(Array.from(encode('gs1-128', text).modules).join('')).toBe(
        barsOf(await witness(text, 'Code128', 'gs1')),
      );
      expect([
        text,
        differences(
          encode('gs1-data-matrix', text),
          await witness(text, 'DataMatrix', 'gs1,forceSquare'),
        ),
      ]).toEqual([text, 0]);
      const qr = encode('gs1-qr', text, { level: 'M', mask: 3, raiseLevel: false });
      expect([
        text,
        differences(
          qr,
          await witness(text, 'QRCode', `gs1,ecLevel=M,version=${qr.facts.version},dataMask=3`),
        ),
      ]).toEqual([text, 0]);
    }
  });

  test('a Digital Link is carried as an address', async () => {
    for (const id of ['gs1-qr', 'gs1-data-matrix'] as const) {
      const [read] = await readAll(
        symbolPgm(encode(id, 'https://id.marrambay.example/01/02000411000017')),
      );
      expect([read!.text, read!.identifier]).toEqual([
        'https://id.marrambay.example/01/02000411000017',
        id === 'gs1-qr' ? ']Q1' : ']d1',
      ]);
    }
  });

  test('the text under GS1-128 has its identifiers in brackets', () => {
    expect(encode('gs1-128', '0102000411000017').hri![0]!.text).toBe('(01)02000411000017');
    expect(explainFit('gs1-128', `(91)${'x'.repeat(50)}`)).toMatchObject({
      fits: false,
      mend: expect.stringContaining('two codes'),
    });
    for (const id of ['gs1-128', 'gs1-qr', 'gs1-data-matrix'] as SymbologyId[])
      expect(explainFit(id, 'DH-0142')).toMatchObject({ fits: false, position: 0 });
  });
});

describe('add-ons', () => {
  test.each([
    ['ean-13', 'EAN13', '2000411000017'],
    ['upc-a', 'UPCA', '040000700418'],
    ['ean-8', 'EAN8', '20000004'],
    ['upc-e', 'UPCE', '01234505'],
  ] as const)('%s with two and five digits is read with them', async (id, format, main) => {
    for (const addOn of ['00', '01', '02', '03', '99', '00000', '51299', '12345', '98765']) {
      const symbol = encode(id, `${main}+${addOn}`);
      expect(encode(id, main, { addOn }).modules).toEqual(symbol.modules);
      const [read] = await readAll(symbolPgm(symbol, 3), {
        formats: [format],
        eanAddOnSymbol: 'Require',
      });
      expect(read?.text).toBe(expectedRead(symbol).text);
    }
  });

  test('their bars equal an independent writer, but for the gap', async () => {
    for (const addOn of [
      '00',
      '01',
      '02',
      '03',
      ...Array.from({ length: 20 }, (_, i) => String(i * 4871 + 10007).slice(0, 5)),
    ]) {
      const symbol = encode('ean-13', `2000411000017+${addOn}`);
      const ours = Array.from(symbol.modules.slice(symbol.columns, 2 * symbol.columns)).join('');
      const drawn = await witness(`2000411000017+${addOn}`, 'EAN13', '');
      // the writer leaves seven modules, we the nine that the standard has as the least for
      // EAN-13... both within 7 to 12
      const rows = Array.from({ length: drawn.rows }, (_, r) =>
        drawn.modules.slice(r * drawn.columns, (r + 1) * drawn.columns).join(''),
      );
      const both = rows.find(
        (row) => row.slice(95).includes('1') && row.slice(0, 95).includes('1'),
      )!;
      expect(ours.slice(0, 95)).toBe(both.slice(0, 95));
      expect(ours.slice(95).replace(/^0+/, '')).toBe(both.slice(95).replace(/^0+/, ''));
    }
  });

  test('a wrong one is refused', () => {
    expect(explainFit('ean-13', '2000411000017+123')).toMatchObject({ fits: false, position: 14 });
    expect(explainFit('ean-13', '2000411000017+12').fits).toBe(true);
  });
});
