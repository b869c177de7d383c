import { BitBuffer } from '../bits';
import { coderFor, GaloisField } from '../galois';
import { EncodeError, type MatrixSymbol } from '../types';
import { maskConditions } from './masks';
import {
  qrModes,
  shortestSegments,
  toUnits,
  writeUnits,
  type Segmentation,
  type Units,
} from './segments';
import type { QrLevel } from './tables';
import { withRemainder } from './template';

/**
 * Micro QR Code (ISO/IEC 18004): versions M1 to M4, 11 to 17 modules, one finder pattern. Proven
 * module by module for every version, level and mask against an independent writer
 * (tests/core/symbology/small-qr.test.ts).
 */
export interface MicroQrOptions {
  level?: QrLevel;
  raiseLevel?: boolean;
  /** Force one of the versions 1 to 4. */
  version?: number;
  /** Force one of the masks 0 to 3. */
  mask?: number;
}

interface Form {
  version: number;
  /** None in M1, which detects errors only. */
  level: QrLevel | undefined;
  /** Symbol number of the format information. */
  number: number;
  dataBits: number;
  checkWords: number;
}

const forms: readonly Form[] = [
  { version: 1, level: undefined, number: 0, dataBits: 20, checkWords: 2 },
  { version: 2, level: 'L', number: 1, dataBits: 40, checkWords: 5 },
  { version: 2, level: 'M', number: 2, dataBits: 32, checkWords: 6 },
  { version: 3, level: 'L', number: 3, dataBits: 84, checkWords: 6 },
  { version: 3, level: 'M', number: 4, dataBits: 68, checkWords: 8 },
  { version: 4, level: 'L', number: 5, dataBits: 128, checkWords: 8 },
  { version: 4, level: 'M', number: 6, dataBits: 112, checkWords: 10 },
  { version: 4, level: 'Q', number: 7, dataBits: 80, checkWords: 14 },
];

/**
 * Bits of mode indicator plus count in a version; a mode that the version lacks costs more than it
 * holds.
 */
const headers = (version: number): number[] =>
  firstVersion.map((first, mode) =>
    version >= first ? version - 1 + countBitsOf(version, mode) : 0xffff,
  );
/**
 * First version that has a mode, and the bits of its count there; each version after it has one bit
 * more.
 */
const firstVersion = [1, 2, 3, 3];
const countBitsOf = (version: number, mode: number): number =>
  [3, 3, 4, 3][mode]! + version - firstVersion[mode]!;

const field = new GaloisField(0x11d, 256);
const micro: readonly number[] = [1, 4, 6, 7];

interface Plan {
  form: Form;
  units: Units;
  segmentation: Segmentation;
}

/**
 * Chooses version, level and segments.
 * @throws EncodeError for characters outside ASCII that are not in kanji mode, and for payloads
 *   that are too long
 */
export function planMicroQr(payload: string | Uint8Array, options: MicroQrOptions = {}): Plan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const units = toUnits(payload, { eci: 'auto' });
  if (units.eci) {
    const position = Array.from(payload as string).findIndex((c) => c > '\x7f');
    throw new EncodeError(
      'character',
      `Micro QR code cannot say “${Array.from(payload as string)[position]}” for certain: it has no way to name its character set.`,
      {
        position: (payload as string).search(/[^\x00-\x7f]/),
        mend: 'Remove it, or use a QR code.',
      },
    );
  }
  const { version, level } = options;
  if (version !== undefined && !(version >= 1 && version <= 4))
    throw new EncodeError('option', `Micro QR code has the versions M1 to M4, not M${version}.`);
  const atLeast = (form: Form) =>
    level === undefined || 'LMQH'.indexOf(form.level ?? '-') >= 'LMQH'.indexOf(level);
  const possible = forms.filter(
    (form) => (version === undefined || form.version === version) && atLeast(form),
  );
  if (possible.length === 0)
    throw new EncodeError(
      'option',
      version ? `M${version} has no level ${level}.` : `Micro QR code has no level ${level}.`,
      {
        mend: 'Use level M, or a QR code.',
      },
    );
  let most = 0;
  for (const form of possible) {
    most = Math.max(most, form.dataBits);
    const segmentation = shortestSegments(units, headers(form.version));
    if (
      !segmentation ||
      segmentation.bits > form.dataBits ||
      overflows(units, segmentation, form.version)
    )
      continue;
    const higher = forms.findLast(
      (f) => f.version === form.version && f.dataBits >= segmentation.bits,
    );
    return { form: (options.raiseLevel ?? true) && higher ? higher : form, units, segmentation };
  }
  throw new EncodeError(
    'length',
    `Too long: ${payload.length} characters. The largest Micro QR code holds 35 digits, 21 capitals or 15 other letters at level L.`,
    {
      mend:
        level && level !== 'L'
          ? 'Use level L, shorten it, or use a QR code.'
          : 'Shorten it, or use a QR code.',
    },
  );
}

function overflows(units: Units, { segments }: Segmentation, version: number): boolean {
  return segments.some(
    ({ mode, from, to }) =>
      (mode === 3 ? to - from : units.byteStart[to]! - units.byteStart[from]!) >=
      2 ** countBitsOf(version, mode),
  );
}

/**
 * Data and check bits. The last data word of M1 and M3 has four bits, which the check takes as the
 * upper half of a word.
 */
function bitsOf({ form, units, segmentation }: Plan): number[] {
  const { version, dataBits, checkWords } = form;
  const buffer = new BitBuffer(20);
  for (const { mode, from, to } of segmentation.segments) {
    buffer.append(mode, version - 1);
    writeUnits(units, mode, from, to, countBitsOf(version, mode), buffer);
  }
  buffer.append(0, Math.min(2 * version + 1, dataBits - buffer.length));
  const words = Math.ceil(dataBits / 8);
  const data = new Uint8Array(words);
  data.set(buffer.toBytes());
  for (
    let i = Math.ceil(buffer.length / 8), pad = 0xec;
    i < Math.floor(dataBits / 8);
    i++, pad ^= 0xec ^ 0x11
  )
    data[i] = pad;
  const check = new Uint8Array(checkWords);
  coderFor(field, checkWords).encode(data, 0, words, check, 0);
  const bits: number[] = [];
  for (let i = 0; i < dataBits; i++) bits.push((data[i >> 3]! >> (7 - (i & 7))) & 1);
  for (const word of check) for (let k = 7; k >= 0; k--) bits.push((word >> k) & 1);
  return bits;
}

interface Template {
  isFunction: Uint8Array;
  fixed: Uint8Array;
  /** 1 where a mask inverts. */
  masks: Uint8Array[];
}

const templates: Template[] = [];

/** Everything of a version that does not depend on the payload. */
function templateOf(version: number): Template {
  if (templates[version]) return templates[version];
  const size = 9 + 2 * version;
  const isFunction = new Uint8Array(size * size);
  const fixed = new Uint8Array(size * size);
  const set = (r: number, c: number, dark: boolean) => {
    isFunction[r * size + c] = 1;
    fixed[r * size + c] = dark ? 1 : 0;
  };
  for (let i = 0; i < size; i++) {
    set(0, i, i % 2 === 0);
    set(i, 0, i % 2 === 0);
  }
  for (let r = 0; r < 8; r++)
    for (let c = 0; c < 8; c++) {
      const ring = Math.max(Math.abs(r - 3), Math.abs(c - 3));
      set(r, c, ring !== 2 && ring !== 4);
    }
  for (let i = 1; i <= 8; i++) {
    set(8, i, false);
    set(i, 8, false);
  }
  const masks = micro.map((mask) =>
    Uint8Array.from({ length: size * size }, (_, i) =>
      maskConditions[mask]!(Math.floor(i / size), i % size) ? 1 : 0,
    ),
  );
  return (templates[version] = { isFunction, fixed, masks });
}

/** Encodes a short payload as Micro QR Code. */
export function encodeMicroQr(
  payload: string | Uint8Array,
  options: MicroQrOptions = {},
): MatrixSymbol {
  const plan = planMicroQr(payload, options);
  const { form } = plan;
  const size = 9 + 2 * form.version;
  const { isFunction, fixed, masks } = templateOf(form.version);
  const bits = bitsOf(plan);
  const data = new Uint8Array(size * size);
  let at = 0;
  for (let right = size - 1, up = true; right > 0; right -= 2, up = !up)
    for (let i = 0; i < size; i++) {
      const r = up ? size - 1 - i : i;
      for (const c of [right, right - 1])
        if (!isFunction[r * size + c]) data[r * size + c] = bits[at++] ?? 0;
    }
  const masked = (mask: number): Uint8Array => {
    const out = fixed.slice();
    const inverted = masks[mask]!;
    for (let i = 0; i < out.length; i++) if (!isFunction[i]) out[i] = data[i]! ^ inverted[i]!;
    return out;
  };
  let mask = options.mask ?? 0;
  if (options.mask === undefined) {
    let best = -1;
    for (let m = 0; m < 4; m++) {
      const score = edgeScore(masked(m), size);
      if (score > best) [best, mask] = [score, m];
    }
  }
  const modules = masked(mask);
  const format = withRemainder((form.number << 2) | mask, 0x537, 10) ^ 0x4445;
  for (let i = 0; i < 15; i++) {
    const bit = (format >> (14 - i)) & 1;
    if (i < 8) modules[8 * size + i + 1] = bit;
    else modules[(15 - i) * size + 8] = bit;
  }
  return {
    kind: 'matrix',
    symbology: 'micro-qr',
    columns: size,
    rows: size,
    modules,
    quietZone: { top: 2, right: 2, bottom: 2, left: 2 },
    payload,
    facts: {
      version: `M${form.version}`,
      level: form.level ?? 'detection only',
      mask,
      modes: plan.segmentation.segments.map((s) => qrModes[s.mode]).join(' '),
    },
  };
}

/**
 * Dark modules along the two edges without a timing pattern; the mask with the highest score is
 * taken.
 */
function edgeScore(modules: Uint8Array, size: number): number {
  let right = 0;
  let bottom = 0;
  for (let i = 1; i < size; i++) {
    right += modules[i * size + size - 1]!;
    bottom += modules[(size - 1) * size + i]!;
  }
  return right <= bottom ? right * 16 + bottom : bottom * 16 + right;
}
