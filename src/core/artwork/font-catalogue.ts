/** A typeface that ships with Hand Stamp, used alike on the screen, in print and in read-back. */
export interface FontEntry {
  key: string;
  family: string;
  weight: 'regular' | 'bold';
  /** npm package and path of the TrueType file in it. */
  file: string;
  /**
   * For fallbacks: the characters it is taken for when the chosen typeface of the same weight lacks
   * them.
   */
  scripts?: RegExp;
}

const folder = '@expo-google-fonts/';

/** A typeface in both weights; the key of the bold one ends in `-bold`. */
function family(key: string, name: string, pack: string, scripts?: RegExp): FontEntry[] {
  const file = name.replaceAll(' ', '');
  return [
    {
      key,
      family: name,
      weight: 'regular',
      file: `${folder}${pack}/400Regular/${file}_400Regular.ttf`,
      scripts,
    },
    {
      key: `${key}-bold`,
      family: name,
      weight: 'bold',
      file: `${folder}${pack}/700Bold/${file}_700Bold.ttf`,
      scripts,
    },
  ];
}

/** To add a typeface, add its package and one entry. */
export const fontCatalogue: readonly FontEntry[] = [
  ...family('atkinson', 'Atkinson Hyperlegible Next', 'atkinson-hyperlegible-next'),
  ...family('bricolage', 'Bricolage Grotesque', 'bricolage-grotesque'),
  ...family('mono', 'Atkinson Hyperlegible Mono', 'atkinson-hyperlegible-mono'),
  ...family(
    'noto',
    'Noto Sans',
    'noto-sans',
    /[\p{sc=Latin}\p{sc=Greek}\p{sc=Cyrillic}\p{sc=Common}\p{sc=Inherited}]/u,
  ),
  ...family('noto-hebrew', 'Noto Sans Hebrew', 'noto-sans-hebrew', /\p{sc=Hebrew}/u),
  ...family('noto-arabic', 'Noto Sans Arabic', 'noto-sans-arabic', /\p{sc=Arabic}/u),
  ...family(
    'noto-devanagari',
    'Noto Sans Devanagari',
    'noto-sans-devanagari',
    /\p{sc=Devanagari}/u,
  ),
  ...family(
    'noto-jp',
    'Noto Sans JP',
    'noto-sans-jp',
    /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\u3000-\u303f\uff00-\uffef]/u,
  ),
  ...family('noto-kr', 'Noto Sans KR', 'noto-sans-kr', /[\p{sc=Hangul}\p{sc=Han}]/u),
  ...family('noto-sc', 'Noto Sans SC', 'noto-sans-sc', /\p{sc=Han}/u),
];

/** Numbers of parts, from the first to the last of each range. */
const pages = (...ranges: [from: number, to: number][]): number[] =>
  ranges.flatMap(([from, to]) => Array.from({ length: to - from + 1 }, (_, i) => from + i));
/**
 * Parts of 256 characters each, by which a large typeface is handed to a browser, each by its code
 * points without their last byte. The others are small enough to be handed over whole.
 */
const han: [number, number][] = [
  [0x2e, 0x9f],
  [0xf9, 0xfa],
  [0xff, 0xff],
  // rare characters, of which some are usual in names
  [0x200, 0x323],
];
const slices: Readonly<Record<string, readonly number[]>> = {
  'noto-jp': pages(...han, [0x1b0, 0x1b1], [0x1f2, 0x1f2]),
  'noto-kr': pages(...han, [0x11, 0x11], [0xa9, 0xa9], [0xac, 0xd7]),
  'noto-sc': pages(...han),
};

/** The parts of a typeface that a browser may load; empty if it loads the whole. */
export const slicesOf = (key: string): readonly number[] => slices[key.replace(/-bold$/, '')] ?? [];

/** The part in which a character is. */
export const sliceOf = (codePoint: number): number => codePoint >> 8;

/** The characters of a part. */
export const charactersOf = (slice: number): string =>
  String.fromCodePoint(...Array.from({ length: 256 }, (_, i) => slice * 256 + i));

/** The parts of a typeface that some text needs. */
export function slicesFor(text: string, key: string): number[] {
  const offered = slicesOf(key);
  const needed = new Set(Array.from(text, (character) => sliceOf(character.codePointAt(0)!)));
  return offered.filter((slice) => needed.has(slice));
}

/** Whose forms of the characters that Chinese, Japanese and Korean share are printed. */
export const hanForms = ['noto-jp', 'noto-sc', 'noto-kr'] as const;
export type HanForms = (typeof hanForms)[number];

export const fontKeys = fontCatalogue.filter((entry) => !entry.scripts).map((entry) => entry.key);
const fallbacks = fontCatalogue.filter((entry) => entry.scripts);
type Weight = FontEntry['weight'];
const weightOf = (key: string): Weight => (key.endsWith('-bold') ? 'bold' : 'regular');
const inWeight = (key: string, weight: Weight): string => (weight === 'bold' ? `${key}-bold` : key);
const shares = (entry: FontEntry) =>
  hanForms.some((key) => inWeight(key, entry.weight) === entry.key);
const orders = new Map<string, readonly FontEntry[]>();

/**
 * The fallbacks in the weight of a typeface, the wanted forms of shared characters before the
 * others.
 */
export function fallbacksFor(chosen: string, han: HanForms): readonly FontEntry[] {
  const weight = weightOf(chosen);
  const wanted = inWeight(han, weight);
  let order = orders.get(wanted);
  if (!order) {
    const own = fallbacks.filter((e) => e.weight === weight);
    order = [
      ...own.filter((e) => !shares(e)),
      ...own.filter((e) => e.key === wanted),
      ...own.filter((e) => shares(e) && e.key !== wanted),
    ];
    orders.set(wanted, order);
  }
  return order;
}

/**
 * The fonts that a text in a chosen typeface may need: itself, and the fallbacks of its scripts. Of
 * the large ones that share characters only the wanted one; see {@link lackingFonts} for its gaps.
 */
export function fontsFor(text: string, key: string, han: HanForms = 'noto-jp'): string[] {
  const keys = [key];
  if (/^[\x00-\x7f\u00a0-\u00ff]*$/.test(text)) return keys;
  const weight = weightOf(key);
  const wanted = [
    inWeight(han, weight),
    ...(/\p{sc=Hangul}/u.test(text) ? [inWeight('noto-kr', weight)] : []),
  ];
  for (const entry of fallbacks)
    if (
      entry.weight === weight &&
      entry.scripts!.test(text) &&
      (!shares(entry) || wanted.includes(entry.key))
    )
      keys.push(entry.key);
  return keys;
}

/** The question to the loaded typefaces. */
interface FontsAtHand {
  has(key: string): boolean;
  covering(character: string, key: string, han: HanForms | undefined): unknown;
}

/**
 * Further fonts for shared characters that none of the loaded ones has: loaded only when they are
 * needed, for they are large.
 */
export function lackingFonts(
  texts: Iterable<string>,
  key: string,
  han: HanForms | undefined,
  fonts: FontsAtHand,
): string[] {
  for (const text of texts)
    for (const character of text.match(/\p{sc=Han}/gu) ?? [])
      if (!fonts.covering(character, key, han))
        return hanForms
          .map((form) => inWeight(form, weightOf(key)))
          .filter((form) => !fonts.has(form));
  return [];
}
