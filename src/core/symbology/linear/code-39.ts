import { EncodeError, type MatrixSymbol } from '../types';
import { asText, linearSymbol, requireCharacters } from './bars';

/**
 * Code 39 (ISO/IEC 16388): nine elements a character, three of them wide (1). Proven against an
 * independent writer.
 */
const characters = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ-. $/+%';
// prettier-ignore
const patterns = ['000110100','100100001','001100001','101100000','000110001','100110000','001110000','000100101','100100100','001100100','100001001','001001001','101001000','000011001','100011000','001011000','000001101','100001100','001001100','000011100','100000011','001000011','101000010','000010011','100010010','001010010','000000111','100000110','001000110','000010110','110000001','011000001','111000000','010010001','110010000','011010000','010000101','110000100','011000100','010101000','010100010','010001010','000101010'];
const startStop = '010010100';

export interface Code39Options {
  /** Say all of ASCII by pairs of characters. */
  fullAscii?: boolean;
  /** Append the modulo 43 check character. */
  checkCharacter?: boolean;
  /** Width of wide elements in modules. */
  wide?: 2 | 3;
}

/** The pairs for ASCII characters outside the basic set. */
function fullAsciiPairs(text: string): string {
  return Array.from(text, (character) => {
    const code = character.charCodeAt(0);
    if (/[0-9A-Z. -]/.test(character)) return character;
    if (code === 0) return '%U';
    if (code <= 26) return `$${String.fromCharCode(64 + code)}`;
    if (code <= 31) return `%${String.fromCharCode(65 + code - 27)}`;
    if (code <= 58) return code === 58 ? '/Z' : `/${String.fromCharCode(65 + code - 33)}`;
    if (code <= 63) return `%${String.fromCharCode(70 + code - 59)}`;
    if (code === 64) return '%V';
    if (code <= 95) return `%${String.fromCharCode(75 + code - 91)}`;
    if (code === 96) return '%W';
    if (code <= 122) return `+${String.fromCharCode(65 + code - 97)}`;
    return `%${String.fromCharCode(80 + code - 123)}`;
  }).join('');
}

const most = 60;

export function checkCode39(payload: string | Uint8Array, options: Code39Options = {}): string {
  const text = asText(payload);
  if (options.fullAscii)
    requireCharacters(
      text,
      /[\0-\x7f]/,
      'Code 39',
      'plain ASCII in this form',
      'Remove it, or use a QR code.',
    );
  else {
    const lower = text.search(/[a-z]/);
    if (lower >= 0)
      throw new EncodeError(
        'character',
        `Code 39 has no small letters; “${text[lower]}” is at place ${lower + 1}.`,
        {
          position: lower,
          // only if there is no other problem
          mend: /^[0-9A-Za-z. $/+%-]*$/.test(text)
            ? 'Change it to capitals.'
            : 'Use Code 128, which has them.',
        },
      );
    requireCharacters(
      text,
      /[0-9A-Z. $/+%-]/,
      'Code 39',
      'digits, capitals and - . $ / + % and the space',
      'Remove it, or use Code 128.',
    );
  }
  const length = options.fullAscii ? fullAsciiPairs(text).length : text.length;
  if (length > most)
    throw new EncodeError(
      'length',
      `Too long for a Code 39 that scanners still read: ${length} of at most ${most} characters.`,
      {
        mend: 'Shorten it, or use Code 128.',
      },
    );
  return text;
}

/** Encodes a text as Code 39. HRI shows the asterisks of start and stop, as is usual. */
export function encodeCode39(
  payload: string | Uint8Array,
  options: Code39Options = {},
): MatrixSymbol {
  const text = checkCode39(payload, options);
  let data = options.fullAscii ? fullAsciiPairs(text) : text;
  if (options.checkCharacter)
    data += characters[Array.from(data).reduce((sum, c) => sum + characters.indexOf(c), 0) % 43];
  const wide = options.wide ?? 3;
  const widths = [
    startStop,
    ...Array.from(data, (c) => patterns[characters.indexOf(c)]),
    startStop,
  ].flatMap((pattern, i, all) => [
    ...Array.from(pattern!, (w) => (w === '1' ? wide : 1)),
    ...(i < all.length - 1 ? [1] : []),
  ]);
  return linearSymbol(
    'code-39',
    text,
    widths!,
    10,
    { characters: data.length, said: data },
    `*${text}*`,
  );
}
