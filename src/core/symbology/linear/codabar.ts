import type { MatrixSymbol } from '../types';
import { asText, linearSymbol, requireCharacters } from './bars';

/**
 * Codabar (EN 798): seven elements a character, wide ones 1. Proven against an independent writer.
 */
const characters = '0123456789-$:/.+ABCD';
// prettier-ignore
const patterns = ['0000011','0000110','0001001','1100000','0010010','1000010','0100001','0100100','0110000','1001000','0001100','0011000','1000101','1010001','1010100','0010101','0011010','0101001','0001011','0001110'];

export interface CodabarOptions {
  /** Start and stop characters, A to D, when the payload does not bring its own. */
  startStop?: readonly [string, string];
  wide?: 2 | 3;
  /** Append the modulo 16 check character, which readers hand over with the rest. */
  checkCharacter?: boolean;
}

export function checkCodabar(payload: string | Uint8Array): string {
  const text = asText(payload);
  const inner = /^[A-D].*[A-D]$/.test(text) ? text.slice(1, -1) : text;
  requireCharacters(
    inner,
    /[0-9$:/.+-]/,
    'Codabar',
    'digits and - $ : / . +',
    'Remove it, or use Code 128.',
  );
  return text;
}

/**
 * Encodes digits and a few signs as Codabar; start and stop are the payload's own letters, or A and
 * A.
 */
export function encodeCodabar(
  payload: string | Uint8Array,
  options: CodabarOptions = {},
): MatrixSymbol {
  const text = checkCodabar(payload);
  const [start, stop] = options.startStop ?? ['A', 'A'];
  let data = /^[A-D].*[A-D]$/.test(text) ? text : `${start}${text}${stop}`;
  const values = Array.from(data).reduce((sum, c) => sum + characters.indexOf(c), 0);
  if (options.checkCharacter)
    data = `${data.slice(0, -1)}${characters[(16 - (values % 16)) % 16]}${data.at(-1)}`;
  const wide = options.wide ?? 3;
  const widths = Array.from(data).flatMap((c, i) => [
    ...Array.from(patterns[characters.indexOf(c)]!, (w) => (w === '1' ? wide : 1)),
    ...(i < data.length - 1 ? [1] : []),
  ]);
  return linearSymbol(
    'codabar',
    text,
    widths,
    10,
    { start: data[0]!, stop: data.at(-1)!, said: data },
    text,
  );
}
