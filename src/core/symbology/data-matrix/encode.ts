import { mostBytes } from '../bits';
import { GaloisField, ReedSolomon } from '../galois';
import { EncodeError, type MatrixSymbol } from '../types';
import {
  exactEnding,
  fnc1,
  planEncodation,
  writeEncodation,
  type Ending,
  type Units,
} from './encodation';
import { placementMap } from './placement';
import { rectangleSizes, squareSizes, type DataMatrixSize } from './sizes';

export interface DataMatrixOptions {
  /** Square sizes only when left out; `rectangle` takes the six rectangular ones. */
  shape?: 'square' | 'rectangle';
  /** Force one size, as rows × columns. */
  size?: readonly [rows: number, columns: number];
  gs1?: boolean;
}

const field = new GaloisField(0x12d, 256);
const coders: ReedSolomon[] = [];

interface DataMatrixPlan {
  size: DataMatrixSize;
  units: Units;
  prefix: number[];
  plan: ReturnType<typeof planEncodation>;
  ending: Ending | undefined;
}

/** ASCII as it is; any other text as UTF-8, announced by ECI 26. */
function toBytes(payload: string | Uint8Array): { bytes: Uint8Array; eci: boolean } {
  if (typeof payload !== 'string') return { bytes: payload, eci: false };
  let ascii = true;
  for (let i = 0; i < payload.length; i++) if (payload.charCodeAt(i) > 127) ascii = false;
  return { bytes: new TextEncoder().encode(payload), eci: !ascii };
}

/**
 * Chooses encodation and size (ISO/IEC 16022, ECC 200), without drawing.
 * @throws EncodeError when the payload is empty or too long
 */
export function planDataMatrix(
  payload: string | Uint8Array,
  options: DataMatrixOptions = {},
): DataMatrixPlan {
  if (payload.length === 0)
    throw new EncodeError('empty', 'There is nothing to encode.', { mend: 'Give it a value.' });
  const { bytes, eci } = toBytes(payload);
  if (bytes.length > 3116) throw tooLong(payload.length);
  const units = { bytes, gs1: options.gs1 ?? false };
  const prefix = [...(units.gs1 ? [fnc1] : []), ...(eci ? [241, 27] : [])];
  const all = options.size
    ? [...squareSizes, ...rectangleSizes].filter(
        (s) => s.rows === options.size![0] && s.columns === options.size![1],
      )
    : options.shape === 'rectangle'
      ? rectangleSizes
      : squareSizes;
  if (all.length === 0)
    throw new EncodeError('option', `Data Matrix has no size ${options.size!.join(' × ')}.`);
  const plan = planEncodation(units);
  const closed = prefix.length + plan.best[bytes.length]!;
  for (const size of all) {
    if (closed <= size.dataWords) return { size, units, prefix, plan, ending: undefined };
    const ending = exactEnding(units, plan, prefix.length, size.dataWords);
    if (ending) return { size, units, prefix, plan, ending };
  }
  throw tooLong(payload.length, all.at(-1)!, closed);
}

/** Bytes of which the largest square holds any: it has 1,558 words for data. */
const alwaysFits = 1550;

/**
 * Whether a payload can be encoded at all.
 * @throws EncodeError if `planDataMatrix` does
 */
export function checkDataMatrix(
  payload: string | Uint8Array,
  options: DataMatrixOptions = {},
): void {
  const free = options.size === undefined && options.shape !== 'rectangle';
  const bytes = mostBytes(payload);
  if (!free || bytes === 0 || bytes > alwaysFits) planDataMatrix(payload, options);
}

function tooLong(length: number, size?: DataMatrixSize, words = 0): EncodeError {
  const which =
    size && size.rows < 144
      ? `A Data Matrix of ${size.rows} × ${size.columns}`
      : 'The largest Data Matrix';
  const over = size ? ` It is over by ${words - size.dataWords} codewords.` : '';
  return new EncodeError(
    'length',
    `Too long: ${length.toLocaleString('en')} characters. ${which} holds ${(size ?? squareSizes.at(-1)!).dataWords.toLocaleString('en')} codewords.${over}`,
    { mend: 'Shorten it.' },
  );
}

/** Encodes a payload as Data Matrix ECC 200 in the smallest size that holds it. */
export function encodeDataMatrix(
  payload: string | Uint8Array,
  options: DataMatrixOptions = {},
): MatrixSymbol {
  const { size, units, prefix, plan, ending } = planDataMatrix(payload, options);
  const words = writeEncodation(units, plan, prefix, ending);
  const used = words.length;
  for (let i = used; i < size.dataWords; i++) {
    const pad = i === used ? 129 : 129 + ((149 * (i + 1)) % 253) + 1;
    words.push(pad > 254 ? pad - 254 : pad);
  }
  const { map, height, width } = placementMap(size);
  const all = withCheckWords(words, size);
  const modules = new Uint8Array(size.rows * size.columns);
  const regionRows = height / size.down;
  const regionColumns = width / size.across;
  for (let r = 0; r < height; r++)
    for (let c = 0; c < width; c++) {
      const from = map[r * width + c]!;
      const dark = from === -2 || (from >= 0 && (all[from >> 3]! >> (7 - (from & 7))) & 1);
      if (dark)
        modules[
          (r + 1 + 2 * Math.floor(r / regionRows)) * size.columns +
            c +
            1 +
            2 * Math.floor(c / regionColumns)
        ] = 1;
    }
  drawFinders(modules, size, regionRows, regionColumns);
  return {
    kind: 'matrix',
    symbology: 'data-matrix',
    columns: size.columns,
    rows: size.rows,
    modules,
    quietZone: { top: 1, right: 1, bottom: 1, left: 1 },
    payload,
    facts: { size: `${size.rows} × ${size.columns}`, codewords: used },
  };
}

/**
 * Check words of each interleaved block. Codeword i of the whole symbol belongs to block i modulo
 * the number of blocks; in 144 × 144, where 1558 data words do not fill the last round, the check
 * words therefore begin with the ninth block.
 */
function withCheckWords(words: readonly number[], size: DataMatrixSize): Uint8Array {
  const { blocks, dataWords, checkWords } = size;
  const each = checkWords / blocks;
  const coder = (coders[each] ??= new ReedSolomon(field, each, 1));
  const out = new Uint8Array(dataWords + checkWords);
  out.set(words);
  const check = new Uint8Array(each);
  for (let b = 0; b < blocks; b++) {
    const data: number[] = [];
    for (let i = b; i < dataWords; i += blocks) data.push(words[i]!);
    coder.encode(data, 0, data.length, check, 0);
    const place = size.rows === 144 ? (b + 2) % blocks : b;
    for (let i = 0; i < each; i++) out[dataWords + i * blocks + place] = check[i]!;
  }
  return out;
}

/** Solid left and bottom, dotted top and right edge of every data region. */
function drawFinders(
  modules: Uint8Array,
  { columns, down, across }: DataMatrixSize,
  regionRows: number,
  regionColumns: number,
): void {
  for (let v = 0; v < down; v++)
    for (let h = 0; h < across; h++) {
      const top = v * (regionRows + 2);
      const left = h * (regionColumns + 2);
      const bottom = top + regionRows + 1;
      const right = left + regionColumns + 1;
      for (let r = top; r <= bottom; r++) {
        modules[r * columns + left] = 1;
        modules[r * columns + right] = (bottom - r) % 2 === 0 ? 1 : 0;
      }
      for (let c = left; c <= right; c++) {
        modules[bottom * columns + c] = 1;
        modules[top * columns + c] = (c - left) % 2 === 0 ? 1 : 0;
      }
    }
}
