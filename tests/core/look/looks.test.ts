import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inflateSync } from 'node:zlib';
import fc from 'fast-check';
import { decode as decodeJpeg } from 'jpeg-js';
import { beforeAll, describe, expect, test } from 'vitest';
import {
  encode,
  renderPng,
  renderSvg,
  symbologies,
  type Look,
  type SymbologyId,
} from '../../../src/core';
import { renderPdf as renderCodePdf } from '../../../src/core/artwork/code-pdf';
import { deflateRows } from '../../../src/core/artwork/deflate-rows';
import { renderEps } from '../../../src/core/artwork/eps';
import { renderJpeg } from '../../../src/core/artwork/jpeg';
import { encodePicture, pictureOf, turnedPicture } from '../../../src/core/drawing/pixels';
import { toBase64, type KeptPicture } from '../../../src/core/drawing/picture';
import { blockMap, clearedArea, damageOf, logoWarnings } from '../../../src/core/look/capacity';
import { layoutOf, measure } from '../../../src/core/look/layout';

import { defaultLook } from '../../../src/core/look/look';
import { lookWarnings } from '../../../src/core/look/warnings';
import { finderShapes, moduleShapes } from '../../../src/core/look/shapes';
import { reallyDiffer, shareBetween, wears, type WearCurve } from '../../../src/core/readback/wear';
import { wearTest } from '../../../src/core/readback/wear-test';
import { provideReader } from '../../../src/server/platform/reader';
import { readAll, symbolPgm } from '../../helpers/barcode';
import { renderPdf } from '../../helpers/poppler';

const text = 'https://marrambay.example/v/DH-0142';
const base: Partial<Look> = { sizeMm: 30, dpi: 300 };

/** A round violet mark on a clear ground. */
const picture: KeptPicture = (() => {
  const side = 40;
  const rgba = new Uint8Array(side * side * 4);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x++)
      if (Math.hypot(x - 19.5, y - 19.5) < 18) rgba.set([91, 61, 138, 255], (y * side + x) * 4);
  return {
    name: 'mark.png',
    width: side,
    height: side,
    png: toBase64(encodePicture({ width: side, height: side, rgba })),
  };
})();

function ghostscript(eps: Uint8Array, dpi: number): Uint8Array {
  const folder = mkdtempSync(join(tmpdir(), 'hand-stamp-eps-'));
  try {
    writeFileSync(join(folder, 'in.eps'), eps);
    execFileSync('gs', [
      '-q',
      '-dNOPAUSE',
      '-dBATCH',
      '-dSAFER',
      '-dEPSCrop',
      '-sDEVICE=pgmraw',
      `-r${dpi}`,
      `-sOutputFile=${join(folder, 'out.pgm')}`,
      join(folder, 'in.eps'),
    ]);
    return readFileSync(join(folder, 'out.pgm'));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * The text read from PNG, JPEG, EPS and PDF, each rendered by another program if one is needed.
 */
async function readEverywhere(
  id: SymbologyId,
  payload: string,
  look: Partial<Look>,
): Promise<string[]> {
  const symbol = encode(id, payload, { level: 'H' });
  const full = { ...base, ...look };
  const formats = symbologies[id].readerFormats.slice();
  const pictures = [
    renderPng(symbol, { ...full, dotsPerModule: 8 }),
    renderJpeg(symbol, { ...full, dotsPerModule: 8 }),
    ghostscript(renderEps(symbol, full), 300),
    renderPdf(await renderCodePdf(symbol, full), 300)[0]!,
  ];
  return Promise.all(
    pictures.map(async (image) => (await readAll(image, { formats }))[0]?.text ?? ''),
  );
}

beforeAll(provideReader);

describe('looks are read back from PNG, JPEG, EPS and PDF', () => {
  const looks: [string, Partial<Look>][] = [
    ['plain', {}],
    ...moduleShapes.map(
      (modules) => [`modules ${modules}`, { modules }] as [string, Partial<Look>],
    ),
    ...finderShapes.map(
      (finders) =>
        [`finders ${finders}`, { finders, modules: 'pebble' }] as [string, Partial<Look>],
    ),
    ...(['across', 'down', 'slanting', 'outwards'] as const).map(
      (direction) =>
        [`gradient ${direction}`, { gradient: { to: '#5b3d8a', direction } }] as [
          string,
          Partial<Look>,
        ],
    ),
    ['logo', { logo: { picture, share: 0.2, clear: true } }],
    ['picture behind', { behind: { picture, strength: 0.1 } }],
    ['frame', { frame: { shape: 'rounded', caption: 'Scan me at the gate', captionAt: 'below' } }],
    [
      'turned',
      {
        turn: 90,
        gradient: { to: '#5b3d8a', direction: 'down' },
        logo: { picture, share: 0.15, clear: true },
      },
    ],
    ['narrowed', { reduceMm: 0.05 }],
    ['transparent', { background: 'transparent' }],
    ['coloured', { foreground: '#1f5f4a', background: '#f3ead2' }],
  ];
  test.each(looks)('%s', async (_, look) => {
    expect(await readEverywhere('qr', text, look)).toEqual([text, text, text, text]);
  });
  test.each(['data-matrix', 'aztec', 'code-128', 'pdf417', 'rmqr', 'maxicode'] as const)(
    '%s, with its own parts',
    async (id) => {
      const said = 'DH-0142';
      const look: Partial<Look> =
        id === 'code-128'
          ? { hri: 'above', barMm: 10, reduceMm: 0.03 }
          : id === 'rmqr' || id === 'maxicode'
            ? { modules: 'pebble' }
            : { modules: 'pebble', frame: { shape: 'square', caption: '', captionAt: 'below' } };
      expect(await readEverywhere(id, said, look)).toEqual([said, said, said, said]);
    },
  );
});

describe('files', () => {
  const symbol = encode('qr', text);
  test('a PNG of two colours has a 1-bit palette, one of more has eight bits with opacity', () => {
    expect(Array.from(renderPng(symbol).subarray(24, 26))).toEqual([1, 3]);
    expect(Array.from(renderPng(encode('code-128', 'DH-0142')).subarray(24, 26))).toEqual([1, 3]);
    expect(Array.from(renderPng(symbol, { modules: 'seed' }).subarray(24, 26))).toEqual([8, 3]);
    expect(
      Array.from(
        renderPng(symbol, { gradient: { to: '#5b3d8a', direction: 'down' } }).subarray(24, 26),
      ),
    ).toEqual([8, 6]);
  });
  test('any rows come back from their compression', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 40 }),
        fc.array(fc.constantFrom(0, 0, 0, 1, 255, 170), { maxLength: 3000 }),
        (stride, bytes) => {
          expect(Array.from(inflateSync(deflateRows(Uint8Array.from(bytes), stride)))).toEqual(
            bytes,
          );
        },
      ),
    );
    const long = new Uint8Array(200_000).map((_, i) => ((i >> 9) * 37) & 255);
    expect(new Uint8Array(inflateSync(deflateRows(long, 513)))).toEqual(long);
  });
  test('a PNG shows the text under the bars, and leaves it out when it is hidden', () => {
    const height = (look: Partial<Look>) =>
      new DataView(
        renderPng(encode('code-128', 'DH-0142'), { dotsPerModule: 2, ...look }).buffer,
      ).getUint32(20);
    expect(height({}) - height({ hri: 'none' })).toBe(20);
  });
  test('a JPEG keeps its resolution and lies on white', () => {
    const jpeg = renderJpeg(symbol, { dpi: 300, background: 'transparent', dotsPerModule: 4 });
    expect(Array.from(jpeg.subarray(13, 18))).toEqual([1, 1, 44, 1, 44]);
    expect(
      Array.from(decodeJpeg(jpeg, { useTArray: true }).data.subarray(0, 3)).every((v) => v > 250),
    ).toBe(true);
  });
  test('the same look gives the same bytes', async () => {
    const look: Partial<Look> = {
      modules: 'reed',
      gradient: { to: '#5b3d8a', direction: 'outwards' },
      logo: { picture, share: 0.15, clear: true },
    };
    expect(renderPng(symbol, look)).toEqual(renderPng(symbol, look));
    expect(renderEps(symbol, look)).toEqual(renderEps(symbol, look));
    expect(await renderCodePdf(symbol, look)).toEqual(await renderCodePdf(symbol, look));
    expect(renderSvg(symbol, look)).toBe(renderSvg(symbol, look));
  });
  test('a kept picture comes back pixel by pixel, and anything else is refused', () => {
    expect(encodePicture(pictureOf(picture))).toEqual(
      Uint8Array.from(atob(picture.png), (c) => c.charCodeAt(0)),
    );
    expect(() => pictureOf({ ...picture, png: toBase64(renderPng(symbol)) })).toThrow(
      /cannot be used in a look/,
    );
    expect(turnedPicture(turnedPicture(pictureOf(picture), 3), 1)).toEqual(pictureOf(picture));
  });
});

describe('size', () => {
  test('a frame and a turn are counted in', () => {
    const symbol = encode('code-128', 'DH-0142');
    const upright = measure(symbol, { ...defaultLook, sizeMm: 40 });
    const turned = measure(symbol, { ...defaultLook, sizeMm: 40, turn: 90 });
    expect([turned.widthMm, turned.heightMm]).toEqual([upright.heightMm, upright.widthMm]);
    const framed = measure(symbol, {
      ...defaultLook,
      sizeMm: 40,
      frame: { shape: 'square', caption: 'A', captionAt: 'above' },
    });
    expect(framed.widthMm).toBeLessThanOrEqual(40);
    expect(framed.heightMm).toBeGreaterThan(upright.heightMm);
    expect(
      layoutOf(symbol, {
        ...defaultLook,
        frame: { shape: 'square', caption: 'A', captionAt: 'above' },
      }).frame!.bandTop,
    ).toBe(true);
  });
});

describe('warnings', () => {
  test('a gradient is judged at both its ends', () => {
    expect(
      lookWarnings(
        { ...defaultLook, gradient: { to: '#e0c0ff', direction: 'down' } },
        { moduleMm: 0.5, columns: 33 },
      ).map((w) => w.kind),
    ).toContain('contrast');
  });
  test('the distance of the reader decides how fine modules may be', () => {
    expect(
      lookWarnings({ ...defaultLook, distanceMm: 250 }, { moduleMm: 0.4, columns: 33 }),
    ).toEqual([]);
    expect(
      lookWarnings({ ...defaultLook, distanceMm: 1000 }, { moduleMm: 0.4, columns: 33 }).map(
        (w) => w.kind,
      ),
    ).toEqual(['small-module']);
  });
  test.each(['qr', 'data-matrix'] as const)(
    '%s: the codewords under a logo are those of the real layout',
    async (id) => {
      // destroys codewords one by one by inverting all their modules: the capacity is what the
      // reader really corrects
      const symbol = encode(id, 'DH-0142 Dune House', { level: 'Q', raiseLevel: false });
      const { codewordOf, blockOf, capacity } = blockMap(symbol)!;
      const inBlock = Array.from(blockOf.keys()).filter((word) => blockOf[word] === 0);
      const spoilt = (count: number) => ({
        ...symbol,
        modules: symbol.modules.map((v, i) =>
          inBlock.slice(0, count).includes(codewordOf[i]!) ? 1 - v : v,
        ),
      });
      const reads = async (count: number) =>
        (
          await readAll(symbolPgm(spoilt(count)), {
            formats: symbologies[id].readerFormats.slice(),
          })
        )[0]?.text === symbol.payload;
      expect(await reads(capacity)).toBe(true);
      expect(await reads(capacity + 1)).toBe(false);
    },
  );
  test('a logo that takes more than its block can mend is warned of, and does not read', async () => {
    const symbol = encode('qr', text, { level: 'L', raiseLevel: false });
    const look = { ...defaultLook, logo: { picture, share: 0.45, clear: true } };
    expect(logoWarnings(symbol, look)[0]!.message).toContain('will not read');
    expect(
      (await readAll(renderPng(symbol, { ...look, dotsPerModule: 8 }), { formats: ['QRCode'] }))[0]
        ?.text,
    ).not.toBe(text);
    expect(
      logoWarnings(encode('qr', text, { level: 'H' }), {
        ...look,
        logo: { ...look.logo, share: 0.1 },
      }),
    ).toEqual([]);
    const small = clearedArea(symbol, 0.1, picture);
    expect(damageOf(symbol, small)!.share).toBeCloseTo(
      (small.rows * small.columns) / symbol.modules.length,
    );
    expect(logoWarnings(encode('aztec', text), look)[0]!.mend).toContain('Remove the logo');
  });
});

describe('wear test', () => {
  const look = { ...defaultLook, sizeMm: 30 };
  const survives = async (level: 'L' | 'H', wear: string) =>
    (
      await wearTest(
        encode('qr', text, { level, raiseLevel: false }),
        look,
        wears.find((w) => w.id === wear)!,
      )
    ).survives ?? -1;
  test('more error correction survives more cover', async () => {
    expect(await survives('H', 'corner')).toBeGreaterThan(await survives('L', 'corner'));
    expect(await survives('H', 'scattered')).toBeGreaterThan(await survives('L', 'scattered'));
  });
  test('every kind of wear begins readable, ends unreadable, and is the same twice', async () => {
    for (const wear of wears) {
      const symbol = encode('qr', text, { level: 'M' });
      const curve = await wearTest(symbol, look, wear);
      expect([wear.id, curve.points[0]!.read]).toEqual([wear.id, 1]);
      expect([wear.id, curve.points.at(-1)!.read]).toEqual([wear.id, 0]);
      expect(await wearTest(symbol, look, wear)).toEqual(curve);
    }
  });
});

describe('what chance has a part in', () => {
  const curve = (least: number | undefined, most: number | undefined): WearCurve => ({
    wear: 'scattered',
    moduleMm: 0.5,
    points: [0, 2, 4, 6, 8].map((amount) => ({ amount, read: 8, tried: 8 })),
    range: { least, most },
  });
  test('a share of tries lies between two bounds (Wilson), closer with more tries', () => {
    expect(shareBetween(8, 10).map((n) => Math.round(n * 100))).toEqual([49, 94]);
    expect(shareBetween(0, 10)[0]).toBeCloseTo(0);
    expect(shareBetween(64, 64)[0]).toBeGreaterThan(shareBetween(8, 8)[0]);
  });
  test('two codes really differ only when their ranges lie apart', () => {
    expect(reallyDiffer(curve(2, 4), curve(6, 8))).toBe(true);
    expect(reallyDiffer(curve(6, 8), curve(2, 4))).toBe(true);
    expect(reallyDiffer(curve(2, 6), curve(4, 8))).toBe(false);
    expect(reallyDiffer(curve(undefined, 2), curve(2, 4))).toBe(false);
    expect(reallyDiffer(curve(undefined, 2), curve(4, 6))).toBe(true);
  });
  test('more tries are spent where it matters, and the range holds what is said', async () => {
    const wear = wears.find((w) => w.id === 'scattered')!;
    const found = await wearTest(
      encode('qr', 'https://marrambay.example/v/DH-0142', { level: 'L' }),
      defaultLook,
      wear,
    );
    expect(found.points[0]!.tried).toBe(1);
    expect(new Set(found.points.slice(1).map((p) => p.tried)).size).toBeGreaterThan(1);
    expect(Math.max(...found.points.map((p) => p.tried))).toBe(64);
    expect(found.range.most!).toBeGreaterThanOrEqual(found.survives!);
    expect(found.range.least ?? 0).toBeLessThanOrEqual(found.survives!);
  });
});
