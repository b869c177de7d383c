import { EncodeError, type MatrixSymbol } from '../types';
import { asText, linearSymbol, requireCharacters, widthsOf } from './bars';

/**
 * Code 93 (AIM BC5): 43 characters and four shifts for full ASCII. Proven against an independent
 * writer.
 */
const characters = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZ-. $/+%';
// prettier-ignore
const patterns = ['131112','111213','111312','111411','121113','121212','121311','111114','131211','141111','211113','211212','211311','221112','221211','231111','112113','112212','112311','122112','132111','111123','111222','111321','121122','131121','212112','212211','211122','211221','221121','222111','112122','112221','122121','123111','121131','311112','311211','321111','112131','113121','211131','121221','312111','311121','122211'].map(widthsOf);
const edge = widthsOf('111141');
/** Values of the four shift characters. */
const [dollar, percent, slash, plus] = [43, 44, 45, 46];
const most = 60;

/** Symbol values of a text; a character outside the 43 needs a shift before it. */
function valuesOf(text: string): number[] {
  return Array.from(text).flatMap((character) => {
    const own = characters.indexOf(character);
    if (own >= 0) return [own];
    const code = character.charCodeAt(0);
    const letter = (first: number, from: number) => 10 + first + code - from;
    if (code === 0) return [percent, 30];
    if (code <= 26) return [dollar, letter(0, 1)];
    if (code <= 31) return [percent, letter(0, 27)];
    if (code <= 58) return code === 58 ? [slash, 35] : [slash, letter(0, 33)];
    if (code <= 63) return [percent, letter(5, 59)];
    if (code === 64) return [percent, 31];
    if (code <= 95) return [percent, letter(10, 91)];
    if (code === 96) return [percent, 32];
    if (code <= 122) return [plus, letter(0, 97)];
    return [percent, letter(15, 123)];
  });
}

function checkValue(values: readonly number[], weights: number): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++)
    sum += values[values.length - 1 - i]! * ((i % weights) + 1);
  return sum % 47;
}

export function checkCode93(payload: string | Uint8Array): string {
  const text = asText(payload);
  requireCharacters(text, /[\0-\x7f]/, 'Code 93', 'plain ASCII', 'Remove it, or use a QR code.');
  const length = valuesOf(text).length;
  if (length > most)
    throw new EncodeError(
      'length',
      `Too long for a Code 93 that scanners still read: ${length} of at most ${most} symbols.`,
      {
        mend: 'Shorten it, or use a QR code.',
      },
    );
  return text;
}

/** Encodes a text as Code 93 with its two check characters. */
export function encodeCode93(payload: string | Uint8Array): MatrixSymbol {
  const text = checkCode93(payload);
  const values = valuesOf(text);
  values.push(checkValue(values, 20));
  values.push(checkValue(values, 15));
  const widths = [...edge, ...values.flatMap((v) => patterns[v]!), ...edge, 1];
  const shown = text.replace(/[\x00-\x1f\x7f]/g, ' ');
  return linearSymbol('code-93', text, widths, 10, { symbols: values.length }, shown);
}
