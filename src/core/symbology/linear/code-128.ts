import { EncodeError, type MatrixSymbol } from '../types';
import { asText, linearSymbol, widthsOf } from './bars';

/**
 * Code 128 (ISO/IEC 15417). Table proven by module comparison of all 103 values with an independent
 * writer (tests/core/symbology/linear.test.ts).
 */
// prettier-ignore
const patterns = ['212222','222122','222221','121223','121322','131222','122213','122312','132212','221213','221312','231212','112232','122132','122231','113222','123122','123221','223211','221132','221231','213212','223112','312131','311222','321122','321221','312212','322112','322211','212123','212321','232121','111323','131123','131321','112313','132113','132311','211313','231113','231311','112133','112331','132131','113123','113321','133121','313121','211331','231131','213113','213311','213131','311123','311321','331121','312113','312311','332111','314111','221411','431111','111224','111422','121124','121421','141122','141221','112214','112412','122114','122411','142112','142211','241211','221114','413111','241112','134111','111242','121142','121241','114212','124112','124211','411212','421112','421211','212141','214121','412121','111143','111341','131141','114113','114311','411113','411311','113141','114131','311141','411131','211412','211214','211232','2331112'].map(widthsOf);

type CodeSet = 0 | 1 | 2;
const A: CodeSet = 0;
const B: CodeSet = 1;
const C: CodeSet = 2;
const starts = [103, 104, 105];
/** Codeword that switches to set A, B or C, from any other set. */
const switches = [101, 100, 99];
const shift = 98;
/**
 * FNC4 in sets A and B: the next character is one of the upper half of Latin-1; twice, all that
 * follow.
 */
const fnc4 = [101, 100];
const fnc1 = 102;

/**
 * Private Unicode characters for the function characters in a payload, which no text contains by
 * chance. FNC4 is never entered; the encoder uses it for the upper half of Latin-1.
 */
export const functions = { FNC1: '\ue001', FNC2: '\ue002', FNC3: '\ue003' } as const;
/** Codewords of FNC1 to FNC3; the last two exist in sets A and B alone. */
const functionWords = [102, 97, 96];
const functionOf = (code: number): number =>
  code >= 0xe001 && code <= 0xe003 ? code - 0xe001 : -1;
const most = 80;

/** Value of the lower half of a character in set A or B, or -1. */
function valueIn(set: CodeSet, low: number): number {
  if (set === A) return low < 32 ? low + 64 : low < 96 ? low - 32 : -1;
  return low >= 32 ? low - 32 : -1;
}

interface Step {
  cost: number;
  words: number[];
  from: number;
  state: number;
}

/**
 * The fewest codewords for a text, by dynamic programming over position, set and FNC4 latch.
 * @param gs1 begin with FNC1; group separators (29) become FNC1
 */
export function code128Words(text: string, gs1 = false): number[] {
  const n = text.length;
  // state = set + 3 when the upper half is latched; of equal ways the one through set B is taken,
  // as is usual
  const preferred = [B, A, C, B + 3, A + 3, C + 3];
  const best: (Step | undefined)[][] = Array.from(
    { length: n + 1 },
    () => new Array<Step | undefined>(6),
  );
  const relax = (at: number, state: number, step: Step) => {
    const known = best[at]![state];
    if (!known || step.cost < known.cost) best[at]![state] = step;
  };
  for (const set of [A, B, C])
    relax(0, set, {
      cost: gs1 ? 2 : 1,
      words: gs1 ? [starts[set]!, fnc1] : [starts[set]!],
      from: -1,
      state: 0,
    });
  for (let i = 0; i <= n; i++) {
    // switches cost codewords but no characters; two rounds settle them
    for (let round = 0; round < 2; round++)
      for (const state of preferred) {
        const here = best[i]![state];
        if (!here) continue;
        const set = (state % 3) as CodeSet;
        const latched = state >= 3;
        for (const to of [A, B, C] as const)
          if (to !== set)
            relax(i, to + (latched ? 3 : 0), {
              cost: here.cost + 1,
              words: [switches[to]!],
              from: i,
              state,
            });
        if (set !== C)
          relax(i, set + (latched ? 0 : 3), {
            cost: here.cost + 2,
            words: [fnc4[set]!, fnc4[set]!],
            from: i,
            state,
          });
      }
    if (i === n) break;
    const code = text.charCodeAt(i);
    for (let state = 0; state < 6; state++) {
      const here = best[i]![state];
      if (!here) continue;
      const set = (state % 3) as CodeSet;
      if (gs1 && code === 29) {
        relax(i + 1, state, { cost: here.cost + 1, words: [fnc1], from: i, state });
        continue;
      }
      const special = functionOf(code);
      if (special >= 0) {
        if (special === 0 || set !== C)
          relax(i + 1, state, {
            cost: here.cost + 1,
            words: [functionWords[special]!],
            from: i,
            state,
          });
        continue;
      }
      if (set === C) {
        const pair = text.slice(i, i + 2);
        if (/^\d\d$/.test(pair))
          relax(i + 2, state, { cost: here.cost + 1, words: [Number(pair)], from: i, state });
        continue;
      }
      const upper = code >= 128;
      const extra = upper === state >= 3 ? [] : [fnc4[set]!];
      const own = valueIn(set, code & 127);
      if (own >= 0)
        relax(i + 1, state, {
          cost: here.cost + 1 + extra.length,
          words: [...extra, own],
          from: i,
          state,
        });
      const other = valueIn(set === A ? B : A, code & 127);
      if (own < 0 && other >= 0 && extra.length === 0)
        relax(i + 1, state, { cost: here.cost + 2, words: [shift, other], from: i, state });
    }
  }
  let state: number = B;
  for (let s = 0; s < 6; s++)
    if ((best[n]![s]?.cost ?? Infinity) < (best[n]![state]?.cost ?? Infinity)) state = s;
  const words: number[] = [];
  for (let at = n, s = state; at >= 0;) {
    const step = best[at]![s]!;
    words.unshift(...step.words);
    [at, s] = [step.from, step.state];
  }
  return words;
}

export function checkCode128(payload: string | Uint8Array): string {
  const text = asText(payload);
  if (text.startsWith(functions.FNC1))
    throw new EncodeError(
      'option',
      'A Code 128 that begins with FNC1 is a GS1-128, and scanners look for identifiers in it.',
      {
        position: 0,
        mend: 'Use GS1-128, and begin each value with its identifier, as in (01)02000411000017.',
      },
    );
  for (let i = 0; i < text.length; i++)
    if (text.charCodeAt(i) > 255 && functionOf(text.charCodeAt(i)) < 0)
      throw new EncodeError(
        'character',
        `Code 128 cannot say “${Array.from(text.slice(i))[0]}” at place ${i + 1}; it holds Latin letters, digits and signs.`,
        {
          position: i,
          mend: 'Remove it, or use a QR code.',
        },
      );
  // letters, digits and plain signs are a word each at most
  if (text.length <= most && /^[\x20-\x7e]*$/.test(text)) return text;
  // a codeword holds two digits at most: a longer text needs no counting
  const data = text.length > 2 * most ? Math.ceil(text.length / 2) : code128Words(text).length - 1;
  if (data > most)
    throw new EncodeError(
      'length',
      `Too long for a Code 128 that scanners still read: ${text.length} characters take ${text.length > 2 * most ? 'at least ' : ''}${data} of at most ${most} codewords.`,
      {
        mend: 'Shorten it, or use a QR code.',
      },
    );
  return text;
}

/** Bars and spaces of codewords, with the check character and the stop added. */
export function code128Widths(words: readonly number[]): number[] {
  let sum = words[0]!;
  for (let i = 1; i < words.length; i++) sum += words[i]! * i;
  return [...words, sum % 103, 106].flatMap((word) => patterns[word]!);
}

/** Encodes a text as Code 128, sets A, B and C switched for the shortest symbol. */
export function encodeCode128(payload: string | Uint8Array): MatrixSymbol {
  const text = checkCode128(payload);
  const words = code128Words(text);
  const widths = code128Widths(words);
  const shown = text.replace(/[\x00-\x1f\x7f\ue001-\ue003]/g, ' ');
  return linearSymbol('code-128', text, widths, 10, { codewords: words.length }, shown);
}
