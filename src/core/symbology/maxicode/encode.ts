import { coderFor, GaloisField } from '../galois';
import { EncodeError, type ExpectedRead, type MatrixSymbol } from '../types';
import { messageCharacters, padded, plainCost, setAValue } from './characters';
import { dark, grid, gridColumns, gridRows } from './grid';

export interface MaxicodeOptions {
  /**
   * 4 standard correction, 5 more of it, 6 sets up a scanner. Modes 2 and 3 come with `carrier`.
   */
  maxicodeMode?: 4 | 5 | 6;
  /**
   * Structured carrier message: makes mode 2 when the postal code is all digits (up to 9), else
   * mode 3 (up to 6 characters).
   */
  carrier?: {
    postcode: string;
    /** ISO 3166 number, 0 to 999. */ country: number;
    /** 0 to 999. */ service: number;
  };
}

const field = new GaloisField(0x43, 64);
interface Plan {
  mode: number;
  /** Ten symbol characters of the primary message. */
  primary: number[];
  secondary: number[];
}

/** Latin-1 as it is; other text as UTF-8 announced by ECI 26. */
function messageOf(payload: string | Uint8Array): { codes: number[]; eci: boolean } {
  if (typeof payload !== 'string') return { codes: Array.from(payload), eci: false };
  const codes = Array.from(payload, (c) => c.codePointAt(0)!);
  return codes.every((code) => code < 256)
    ? { codes, eci: false }
    : { codes: Array.from(new TextEncoder().encode(payload)), eci: true };
}

/** Packs 60 bits, given as [value, bits] from the least significant, into ten characters. */
function pack(parts: readonly (readonly [value: number, bits: number])[]): number[] {
  let whole = 0n;
  let at = 0n;
  for (const [value, bits] of parts) {
    whole |= BigInt(value) << at;
    at += BigInt(bits);
  }
  return Array.from({ length: 10 }, (_, i) => Number((whole >> BigInt(6 * i)) & 63n));
}

function carrierPrimary({ postcode, country, service }: NonNullable<MaxicodeOptions['carrier']>): {
  mode: number;
  primary: number[];
} {
  for (const [value, name] of [
    [country, 'Country'],
    [service, 'Service class'],
  ] as const)
    if (!(Number.isInteger(value) && value >= 0 && value <= 999))
      throw new EncodeError('option', `${name} is a number from 0 to 999, not ${value}.`, {
        mend: 'Write three digits.',
      });
  if (/^\d{1,9}$/.test(postcode))
    return {
      mode: 2,
      primary: pack([
        [2, 4],
        [Number(postcode), 30],
        [postcode.length, 6],
        [country, 10],
        [service, 10],
      ]),
    };
  if (postcode === '' || postcode.length > 6)
    throw new EncodeError(
      'length',
      `A postal code has up to 9 digits or 6 characters; “${postcode}” has ${postcode.length}.`,
      {
        mend: 'Shorten it.',
      },
    );
  const characters = Array.from(postcode.toUpperCase().padEnd(6), (c) => {
    const value = setAValue(c);
    if (value === undefined)
      throw new EncodeError(
        'character',
        `A postal code in MaxiCode holds capitals, digits and signs; “${c}” is none.`,
        {
          mend: 'Remove it.',
        },
      );
    return value;
  });
  return {
    mode: 3,
    primary: pack([
      [3, 4],
      ...characters.reverse().map((value) => [value, 6] as const),
      [country, 10],
      [service, 10],
    ]),
  };
}

/**
 * Works out the symbol characters of a message.
 * @throws EncodeError when it is empty or too long
 */
function planMaxicode(payload: string | Uint8Array, options: MaxicodeOptions = {}): Plan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const { codes, eci } = messageOf(payload);
  // more than 138 characters never fit, whatever the set
  const message = messageCharacters(codes.slice(0, 200));
  if (eci) message.said.unshift(27, 26);
  const carrier = options.carrier && carrierPrimary(options.carrier);
  const mode = carrier?.mode ?? options.maxicodeMode ?? 4;
  const room = (carrier ? 0 : 9) + (mode === 5 ? 68 : 84);
  if (codes.length > 200 || message.said.length > room)
    throw new EncodeError(
      'length',
      `Too long: ${payload.length} characters. A MaxiCode ${carrier ? 'with a postal code ' : ''}holds ${room} capitals or ${carrier ? 126 : 138} digits.`,
      {
        mend:
          mode === 5
            ? 'Use mode 4, shorten it, or use a QR code.'
            : 'Shorten it, or use a QR code.',
      },
    );
  const all = padded(message, room);
  if (carrier) return { mode, primary: carrier.primary, secondary: all };
  return { mode, primary: [mode, ...all.slice(0, 9)], secondary: all.slice(9) };
}

/**
 * Whether a payload can be encoded at all.
 * @throws EncodeError if `planMaxicode` does
 */
export function checkMaxicode(payload: string | Uint8Array, options: MaxicodeOptions = {}): void {
  const free = options.carrier === undefined && options.maxicodeMode === undefined;
  if (!free || typeof payload !== 'string' || payload === '' || plainCost(payload) > 9 + 84)
    planMaxicode(payload, options);
}

/**
 * Primary message with 10 check characters, then the secondary with its own, calculated separately
 * for odd and even characters.
 */
function withCheckCharacters({ primary, secondary }: Plan): number[] {
  const first = new Uint8Array(10);
  coderFor(field, 10, 1).encode(primary, 0, 10, first, 0);
  const each = (124 - secondary.length) / 2;
  const check = new Array<number>(2 * each);
  for (const half of [0, 1]) {
    const data = secondary.filter((_, i) => i % 2 === half);
    const out = new Uint8Array(each);
    coderFor(field, each, 1).encode(data, 0, data.length, out, 0);
    out.forEach((value, i) => (check[2 * i + half] = value));
  }
  return [...primary, ...first, ...secondary, ...check];
}

/**
 * Encodes a message as MaxiCode: 33 rows of hexagons round a finder of three rings. `modules` holds
 * the hexagons, odd rows moved by half a module to the right; the finder is drawn by the artwork.
 */
export function encodeMaxicode(
  payload: string | Uint8Array,
  options: MaxicodeOptions = {},
): MatrixSymbol {
  const plan = planMaxicode(payload, options);
  const characters = withCheckCharacters(plan);
  const modules = Uint8Array.from(grid, (bit) =>
    bit >= 0 ? (characters[Math.floor(bit / 6)]! >> (5 - (bit % 6))) & 1 : bit === dark ? 1 : 0,
  );
  return {
    kind: 'matrix',
    symbology: 'maxicode',
    columns: gridColumns,
    rows: gridRows,
    modules,
    hexagons: true,
    quietZone: { top: 1, right: 1, bottom: 1, left: 1 },
    payload,
    facts: {
      mode: plan.mode,
      ...(options.carrier && {
        postcode: options.carrier.postcode,
        country: options.carrier.country,
        service: options.carrier.service,
      }),
    },
  };
}

/**
 * A reader gives postal code, country and service class before the message, parted by group
 * separators.
 */
export function expectedMaxicodeRead({ payload, facts }: MatrixSymbol): ExpectedRead {
  const text = typeof payload === 'string' ? payload : String.fromCharCode(...payload);
  if (facts.mode !== 2 && facts.mode !== 3) return { format: 'MaxiCode', text };
  const three = (value: unknown) => String(value).padStart(3, '0');
  const postcode =
    facts.mode === 3 ? String(facts.postcode).toUpperCase().padEnd(6) : String(facts.postcode);
  const before = `${postcode}\x1d${three(facts.country)}\x1d${three(facts.service)}\x1d`;
  const header = /^\[\)>\x1e01\x1d\d\d/.exec(text)?.[0] ?? '';
  return { format: 'MaxiCode', text: header + before + text.slice(header.length) };
}
