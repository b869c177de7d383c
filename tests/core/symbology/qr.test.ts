import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode, EncodeError, explainFit } from '../../../src/core';
import { columnPenalty, maskedBlockPenalty } from '../../../src/core/symbology/qr/masks';
import { checkQr, planQr } from '../../../src/core/symbology/qr/encode';
import {
  oneByteSegment,
  segmentHeaders,
  shortestSegments,
  toUnits,
} from '../../../src/core/symbology/qr/segments';
import { alignmentCentres, blockLayout, qrLevels } from '../../../src/core/symbology/qr/tables';
import { differences, readAll, symbolPgm, witness } from '../../helpers/barcode';

const versions = Array.from({ length: 40 }, (_, i) => i + 1);
const samples = { numeric: '8675309', alphanumeric: 'DH-0142', byte: 'marram/b' } as const;

describe('QR code, module by module against an independent writer', () => {
  for (const level of qrLevels)
    test(`all 40 versions at level ${level}, modes and masks in turn`, async () => {
      for (const version of versions) {
        const mode = (['numeric', 'alphanumeric', 'byte'] as const)[version % 3]!;
        const mask = (version + qrLevels.indexOf(level) * 3) % 8;
        const ours = encode('qr', samples[mode], { version, level, mask, mode, raiseLevel: false });
        const theirs = await witness(
          samples[mode],
          'QRCode',
          `version=${version},ecLevel=${level},dataMask=${mask}`,
        );
        expect([version, differences(ours, theirs)]).toEqual([version, 0]);
      }
    });

  test('every mask of versions 1, 7 and 32', async () => {
    for (const version of [1, 7, 32])
      for (let mask = 0; mask < 8; mask++) {
        const ours = encode('qr', '20004', { version, level: 'M', mask, raiseLevel: false });
        const theirs = await witness(
          '20004',
          'QRCode',
          `version=${version},ecLevel=M,dataMask=${mask}`,
        );
        expect([version, mask, differences(ours, theirs)]).toEqual([version, mask, 0]);
      }
  });

  test('every version filled to its last byte, all levels in turn', async () => {
    for (const version of versions) {
      const level = qrLevels[version % 4]!;
      const room = Math.floor(
        (blockLayout(version, level).dataWords * 8 -
          segmentHeaders[version <= 9 ? 0 : version <= 26 ? 1 : 2]![2]!) /
          8,
      );
      const text = Array.from(
        { length: room },
        (_, i) => 'abcdefghijklmnopqrstuvwxyz'[(i * 7 + version) % 26],
      ).join('');
      const ours = encode('qr', text, { version, level, mask: version % 8, raiseLevel: false });
      const theirs = await witness(
        text,
        'QRCode',
        `version=${version},ecLevel=${level},dataMask=${version % 8}`,
      );
      expect([version, differences(ours, theirs)]).toEqual([version, 0]);
      expect(() => encode('qr', `${text}x`, { version, level })).toThrow(EncodeError);
    }
  });
});

describe('QR code, read back', () => {
  test('any text comes back unchanged, with all its error correction unused', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit: 'grapheme', minLength: 1, maxLength: 60 }),
        fc.constantFrom(...qrLevels),
        async (text, level) => {
          const symbol = encode('qr', text, { level });
          const [read] = await readAll(symbolPgm(symbol), { formats: ['QRCode'] });
          expect(read!.text).toBe(text);
          expect(read!.extra.UEC).toBe(1);
          expect(Number(read!.extra.Version)).toBe(symbol.facts.version);
          expect(read!.extra.ECLevel).toBe(symbol.facts.level);
          expect(Number(read!.extra.DataMask)).toBe(symbol.facts.mask);
        },
      ),
      { numRuns: 150 },
    );
  });

  test('any bytes come back unchanged', async () => {
    await fc.assert(
      fc.asyncProperty(fc.uint8Array({ minLength: 1, maxLength: 200 }), async (bytes) => {
        const [read] = await readAll(symbolPgm(encode('qr', bytes)), { formats: ['QRCode'] });
        expect(Array.from(read!.bytes)).toEqual(Array.from(bytes));
      }),
      { numRuns: 60 },
    );
  });

  test('every character that goes in kanji mode is read as itself, and those that computers disagree on go another way', async () => {
    const decoder = new TextDecoder('shift_jis');
    const other: string[] = [];
    let read = 0;
    for (let lead = 0x81; lead <= 0xeb; lead++)
      for (let trail = 0x40; trail <= 0xfc; trail++) {
        if (lead > 0x9f && lead < 0xe0) continue;
        const text = decoder.decode(Uint8Array.of(lead, trail));
        if ([...text].length !== 1 || text === '\ufffd') continue;
        const symbol = encode('qr', text);
        if (symbol.facts.modes !== 'kanji') {
          other.push(text);
          continue;
        }
        read++;
        const [seen] = await readAll(symbolPgm(symbol), { formats: ['QRCode'] });
        expect(seen?.text).toBe(text);
      }
    expect(read).toBeGreaterThan(6800);
    for (const sign of ['①', '㈱', '㍑', '～', '－', '￡']) {
      expect(other).toContain(sign);
      expect((await readAll(symbolPgm(encode('qr', sign))))[0]!.text).toBe(sign);
    }
  });

  test('kanji mode is used when the whole payload allows it, and UTF-8 with ECI otherwise', async () => {
    const kanji = encode('qr', '海浜植物園の種子バンク');
    expect(kanji.facts.modes).toBe('kanji');
    expect((await readAll(symbolPgm(kanji)))[0]!.text).toBe('海浜植物園の種子バンク');
    const mixed = encode('qr', '桂子 Σοφία');
    expect(String(mixed.facts.modes)).not.toContain('kanji');
    const [read] = await readAll(symbolPgm(mixed));
    expect(read!.text).toBe('桂子 Σοφία');
    expect(read!.hasEci).toBe(true);
  });

  test('GS1 data is announced by FNC1', async () => {
    const [read] = await readAll(symbolPgm(encode('qr', '010200041100001710AB%1', { gs1: true })));
    expect(read!.identifier).toBe(']Q3');
    expect(new TextDecoder().decode(read!.bytes)).toBe('010200041100001710AB%1');
  });
});

describe('QR code, choices', () => {
  test('what is judged to fit is what can be planned, and for the same reason where it is not', () => {
    const reasonOf = (work: () => unknown): string => {
      try {
        work();
        return '';
      } catch (error) {
        return (error as Error).message;
      }
    };
    const unit = fc.constantFrom('A', '7', 'a', 'é', '桂', '\u{1F33F}');
    fc.assert(
      fc.property(
        fc.array(unit, { maxLength: 12 }).map((units) => units.join('')),
        fc.oneof(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 30, max: 800 })),
        fc.record(
          {
            level: fc.constantFrom('L', 'M', 'Q', 'H'),
            version: fc.integer({ min: 0, max: 41 }),
            minVersion: fc.integer({ min: 0, max: 41 }),
            mode: fc.constantFrom('numeric', 'alphanumeric', 'byte', 'kanji'),
            mask: fc.integer({ min: 0, max: 8 }),
            gs1: fc.boolean(),
          },
          { requiredKeys: ['level'] },
        ),
        (text, times, options) => {
          const payload = text.repeat(times);
          expect(reasonOf(() => checkQr(payload, options))).toBe(
            reasonOf(() => planQr(payload, options)),
          );
        },
      ),
      { numRuns: 500 },
    );
  });

  test('capacities of version 40 at level L are those of ISO/IEC 18004', () => {
    const holds = (text: string) => explainFit('qr', text, { level: 'L' }).fits;
    expect([holds('7'.repeat(7089)), holds('7'.repeat(7090))]).toEqual([true, false]);
    expect([holds('A'.repeat(4296)), holds('A'.repeat(4297))]).toEqual([true, false]);
    expect([holds('a'.repeat(2953)), holds('a'.repeat(2954))]).toEqual([true, false]);
    expect([holds('海'.repeat(1817)), holds('海'.repeat(1818))]).toEqual([true, false]);
  });

  test('the segmentation is the shortest there is', () => {
    const alphabet = fc
      .array(fc.constantFrom('1', '7', 'A', '$', 'a', 'é'), { minLength: 1, maxLength: 7 })
      .map((a) => a.join(''));
    fc.assert(
      fc.property(alphabet, fc.constantFrom(0, 1, 2), (text, group) => {
        const units = toUnits(text, {});
        const found = shortestSegments(units, segmentHeaders[group]!)!;
        expect(found.bits).toBe(
          shortestByTrying(units.count, (m, from, to) =>
            segmentBits(units, m, from, to, segmentHeaders[group]!),
          ),
        );
      }),
      { numRuns: 300 },
    );
  });

  test('one byte segment is taken at once only where it is the shortest', () => {
    const alphabet = fc
      .array(fc.constantFrom('1', '77', '2004', 'A', 'ABC', '$', 'a', 'bcd'), {
        minLength: 1,
        maxLength: 9,
      })
      .map((a) => a.join(''));
    fc.assert(
      fc.property(alphabet, fc.constantFrom(0, 1, 2), (text, group) => {
        const units = toUnits(text, {});
        if (units.bytesSuffice)
          expect(oneByteSegment(units, segmentHeaders[group]!).bits).toBe(
            shortestSegments(units, segmentHeaders[group]!)!.bits,
          );
      }),
      { numRuns: 1000 },
    );
    expect(toUnits('https://marrambay.example/v/00042/x', {}).bytesSuffice).toBe(true);
    expect(toUnits('https://marrambay.example/v/200041', {}).bytesSuffice).toBe(false);
  });

  test('the level rises where it costs no room, and never otherwise', () => {
    const plan = planQr('DH-0142', { level: 'L' });
    expect(plan).toMatchObject({ version: 1, level: 'H' });
    expect(planQr('DH-0142', { level: 'L', raiseLevel: false })).toMatchObject({
      version: 1,
      level: 'L',
    });
  });

  test('the mask is the one with the lowest penalty, counted module by module', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 13 }), fc.integer(), (version, seed) => {
        const size = 17 + 4 * version;
        const modules = Array.from(
          { length: size * size },
          (_, i) => ((Math.imul(i + 1, seed | 1) ^ (i * 2654435761)) >>> 13) & 1,
        );
        const words = (size + 31) >> 5;
        const pack = (at: (r: number, c: number) => number) => {
          const bits = new Int32Array(size * words);
          for (let r = 0; r < size; r++)
            for (let c = 0; c < size; c++)
              if (at(r, c)) bits[r * words + (c >> 5)]! |= 1 << (c & 31);
          return bits;
        };
        const upright = pack((r, c) => modules[r * size + c]!);
        const turned = pack((r, c) => modules[c * size + r]!);
        // laid over by exclusive or, as masks are: what is counted is what comes of it
        const mask = pack((r, c) => (Math.imul(r * size + c + 1, seed | 5) >>> 11) & 1);
        const under = upright.map((word, i) => word ^ mask[i]!);
        const turnedUnder = turned.map((word, i) => word ^ mask[i]!);
        const fast =
          maskedBlockPenalty(under, mask, size, words) +
          columnPenalty(under, mask, size, words, Infinity) +
          columnPenalty(turnedUnder, mask, size, words, Infinity);
        expect(fast).toBe(slowPenalty(modules, size));
      }),
      { numRuns: 60 },
    );
  });

  test('alignment patterns stand where the standard puts them', () => {
    expect(alignmentCentres(1)).toEqual([]);
    expect(alignmentCentres(7)).toEqual([6, 22, 38]);
    expect(alignmentCentres(32)).toEqual([6, 34, 60, 86, 112, 138]);
    expect(alignmentCentres(40)).toEqual([6, 30, 58, 86, 114, 142, 170]);
  });

  test('what does not fit says why and what would mend it', () => {
    const fit = explainFit('qr', 'x'.repeat(5000));
    expect(fit).toMatchObject({ fits: false });
    expect(fit.fits ? '' : fit.reason).toContain('5,000 characters');
    expect(fit.fits ? '' : fit.mend).toMatch(/Shorten it by 2,\d+/);
    expect(() => encode('qr', '')).toThrow(/nothing to encode/);
    expect(() => encode('qr', '12a', { mode: 'numeric' })).toThrow(/“a” at place 3/);
    expect(() => encode('qr', 'a', { version: 41 })).toThrow(/1 to 40/);
  });
});

function segmentBits(
  units: ReturnType<typeof toUnits>,
  mode: number,
  from: number,
  to: number,
  headers: readonly number[],
): number {
  let sixths = 0;
  for (let i = from; i < to; i++) sixths += units.costs[mode * units.count + i]!;
  return headers[mode]! + Math.ceil(sixths / 6);
}

/** Every way to cut a short text, by brute force. */
function shortestByTrying(
  count: number,
  cost: (mode: number, from: number, to: number) => number,
): number {
  const best = new Array<number>(count + 1).fill(Infinity);
  best[0] = 0;
  for (let to = 1; to <= count; to++)
    for (let from = 0; from < to; from++)
      for (let mode = 0; mode < 4; mode++)
        best[to] = Math.min(best[to]!, best[from]! + cost(mode, from, to));
  return best[count]!;
}

/** The penalty rules of ISO/IEC 18004, written out plainly. */
function slowPenalty(modules: readonly number[], size: number): number {
  const lines: number[][] = [];
  for (let i = 0; i < size; i++) {
    lines.push(Array.from({ length: size }, (_, k) => modules[i * size + k]!));
    lines.push(Array.from({ length: size }, (_, k) => modules[k * size + i]!));
  }
  let penalty = 0;
  for (const line of lines) {
    for (const run of line.join('').match(/0+|1+/g)!)
      if (run.length >= 5) penalty += run.length - 2;
    const padded = `0000${line.join('')}0000`;
    for (let i = 4; i + 7 <= padded.length - 4; i++)
      if (
        padded.slice(i, i + 7) === '1011101' &&
        (padded.slice(i - 4, i) === '0000' || padded.slice(i + 7, i + 11) === '0000')
      )
        penalty += 40;
  }
  for (let r = 0; r + 1 < size; r++)
    for (let c = 0; c + 1 < size; c++) {
      const sum =
        modules[r * size + c]! +
        modules[r * size + c + 1]! +
        modules[(r + 1) * size + c]! +
        modules[(r + 1) * size + c + 1]!;
      if (sum === 0 || sum === 4) penalty += 3;
    }
  const share = (modules.reduce((a, b) => a + b, 0) / (size * size)) * 100;
  return penalty + Math.max(0, Math.ceil(Math.abs(share - 50) / 5) - 1) * 10;
}
