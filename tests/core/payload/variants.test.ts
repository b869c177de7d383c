import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { symbolArt } from '../../../src/core/artwork/symbol-art';
import { lookAreas, type LookArea } from '../../../src/core/look/areas';
import { logoWarnings } from '../../../src/core/look/capacity';
import { layoutOf, measure } from '../../../src/core/look/layout';
import { defaultLook, type Look } from '../../../src/core/look/look';
import { lookWarnings } from '../../../src/core/look/warnings';
import { encodeOptionsOf, firstStamp, type Stamp } from '../../../src/core/payload/stamp';
import { levelVariants, lookVariants, symbologyVariants } from '../../../src/core/payload/variants';
import { encode } from '../../../src/core/symbology';

const stamp: Stamp = firstStamp([{ id: 'c1', name: 'Page', role: 'address' }]);
const payload = 'https://marrambay.example/v/DH-0142';
const measured = (s: Stamp) => measure(encode(s.symbology, payload, encodeOptionsOf(s)), s.look);

describe('variants side by side', () => {
  test('levels at equal module size differ in size, at equal total size in the module', () => {
    const own = measured(stamp).moduleMm;
    const byModule = levelVariants(stamp, payload, 'module').map((v) => measured(v.stamp));
    expect(byModule).toHaveLength(4);
    for (const m of byModule) expect(m.moduleMm).toBeCloseTo(own, 6);
    expect(byModule[3]!.widthMm).toBeGreaterThan(byModule[0]!.widthMm);
    const bySize = levelVariants(stamp, payload, 'size');
    expect(bySize.every((v) => v.stamp.look.sizeMm === stamp.look.sizeMm)).toBe(true);
    expect(measured(bySize[3]!.stamp).moduleMm).toBeLessThan(measured(bySize[0]!.stamp).moduleMm);
  });
  test('only symbologies that can say the payload are shown, the own one first, all with one module', () => {
    const variants = symbologyVariants(stamp, payload, 'module');
    expect(variants[0]!.stamp.symbology).toBe('qr');
    expect(variants.map((v) => v.stamp.symbology)).not.toContain('ean-13');
    expect(variants.map((v) => v.stamp.symbology)).toContain('data-matrix');
    for (const v of variants.filter((o) => o.stamp.look.sizeMm < 300))
      expect(measured(v.stamp).moduleMm).toBeCloseTo(measured(stamp).moduleMm, 6);
  });
  test('a symbology without levels has no levels to compare; kept looks keep their colours at this size', () => {
    expect(levelVariants({ ...stamp, symbology: 'code-128' }, 'DH-0142', 'module')).toEqual([]);
    const kept: Look = { ...defaultLook, foreground: '#46298f', sizeMm: 60 };
    const looks = lookVariants(stamp, payload, 'size', [{ name: 'Door', document: kept }]);
    expect(looks.map((v) => [v.name, v.stamp.look.foreground, v.stamp.look.sizeMm])).toEqual([
      ['this look', '#1d1a26', 24],
      ['plain black squares', '#000000', 24],
      ['Door', '#46298f', 24],
    ]);
  });
});

describe('the mend of a warning', () => {
  const bad: [string, Partial<Look>][] = [
    ['inverted', { foreground: '#ffffff', background: '#1d1a26' }],
    ['contrast', { foreground: '#c9b458' }],
    ['contrast', { foreground: '#46298f', gradient: { to: '#e0c0ff', direction: 'down' } }],
    ['red-light', { foreground: '#d01020' }],
    ['small-module', { sizeMm: 5 }],
    ['small-module', { sizeMm: 24, distanceMm: 1500 }],
    ['small-module', { sizeMm: 7.3, wholeDots: false }],
    ['shape', { reduceMm: 0.6 }],
    ['behind', { behind: { picture: { png: '', width: 1, height: 1 } as never, strength: 0.7 } }],
    ['quiet-zone', { quietZone: false }],
  ];
  const symbol = encode('qr', payload, { level: 'M' });
  const kinds = (look: Look) => lookWarnings(look, layoutOf(symbol, look)).map((w) => w.kind);
  test.each(bad)('%s is gone once it is applied: %o', (kind, own) => {
    const look = { ...defaultLook, ...own };
    const warning = lookWarnings(look, layoutOf(symbol, look)).find((w) => w.kind === kind)!;
    expect(warning.mend).not.toBe('');
    expect(kinds({ ...look, ...warning.fix })).not.toContain(kind);
  });
  test('any colour that is too close becomes one that is not', () => {
    const hex = fc
      .tuple(fc.nat(255), fc.nat(255), fc.nat(255))
      .map((c) => `#${c.map((v) => v.toString(16).padStart(2, '0')).join('')}`);
    fc.assert(
      fc.property(hex, (foreground) => {
        let look: Look = { ...defaultLook, foreground };
        for (let i = 0; i < 4; i++)
          look = Object.assign(
            {},
            look,
            ...lookWarnings(look, { moduleMm: 1, columns: 33 }).map((w) => w.fix),
          ) as Look;
        expect(lookWarnings(look, { moduleMm: 1, columns: 33 })).toEqual([]);
      }),
    );
  });
  test('a logo is made as large as half of the correction allows', () => {
    const picture = { png: '', width: 10, height: 10 } as never;
    const code = encode('qr', payload, { level: 'Q' });
    const look: Look = { ...defaultLook, logo: { picture, share: 0.45, clear: true } };
    const [warning] = logoWarnings(code, look);
    expect(logoWarnings(code, { ...look, ...warning!.fix })).toEqual([]);
    expect(logoWarnings(encode('aztec', payload), look)[0]!.fix).toEqual({ logo: undefined });
  });
});

describe('the parts of a code that are pointed at', () => {
  const inside = (area: LookArea, columns: number, rows: number) =>
    area.x >= -0.01 &&
    area.y >= -0.01 &&
    area.x + area.width <= columns + 0.01 &&
    area.y + area.height <= rows + 0.01;
  test.each([undefined, 90, 180, 270] as const)(
    'lie within it, and the finders on dark corners, turned by %s',
    (turn) => {
      const symbol = encode('qr', payload, { level: 'M' });
      const look: Look = {
        ...defaultLook,
        turn,
        frame: { shape: 'square', caption: 'Scan me', captionAt: 'below' },
      };
      const art = symbolArt(symbol, look);
      const areas = lookAreas(symbol, look, art.layout);
      expect(areas.map((a) => a.part)).toEqual([
        'surround',
        'modules',
        'finder',
        'finder',
        'finder',
        'middle',
      ]);
      for (const area of areas) expect(inside(area, art.columns, art.rows)).toBe(true);
      // the corner without a finder goes round with the turn
      const finders = areas.filter((a) => a.part === 'finder');
      const modules = areas[1]!;
      const free = [0, 1, 2, 3].find((quarter) => {
        const right = quarter === 0 || quarter === 3;
        const low = quarter === 0 || quarter === 1;
        const x = right ? modules.x + modules.width - 7 : modules.x;
        const y = low ? modules.y + modules.height - 7 : modules.y;
        return !finders.some((f) => Math.abs(f.x - x) < 0.01 && Math.abs(f.y - y) < 0.01);
      });
      expect(free).toBe((turn ?? 0) / 90);
    },
  );
  test('bars have their text, and no finders', () => {
    const symbol = encode('code-128', 'DH-0142');
    const areas = (look: Look) =>
      lookAreas(symbol, look, layoutOf(symbol, look)).map((a) => a.part);
    expect(areas(defaultLook)).toEqual(['surround', 'modules', 'text']);
    expect(areas({ ...defaultLook, hri: 'none' })).toEqual(['surround', 'modules']);
    const above = lookAreas(
      symbol,
      { ...defaultLook, hri: 'above' },
      layoutOf(symbol, { ...defaultLook, hri: 'above' }),
    );
    expect(above[2]!.y).toBe(0);
  });
});
