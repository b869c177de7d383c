import bidiFactory from 'bidi-js';
import { LRUCache } from 'lru-cache';
import type { PlacedGlyph, TextItem } from '../drawing/drawing';
import type { HanForms } from '../artwork/font-catalogue';
import type { FontBook, Typeface } from '../artwork/fonts';

const bidi = bidiFactory();
const mmPerPoint = 25.4 / 72;

export interface TextStyle {
  font: string;
  /** Points. */
  sizePt: number;
  /** Smallest size that shrinking may reach, in points; equal to `sizePt` for no shrinking. */
  minPt: number;
  /** Most lines the box holds. */
  lines: number;
  align: 'left' | 'centre' | 'right';
  colour: string;
  /** Forms of the characters that Chinese, Japanese and Korean share. */
  han?: HanForms;
}

export interface FittedText {
  items: TextItem[];
  sizePt: number;
  /** Letters that do not fit at the smallest size; 0 when all do. */
  over: number;
  /** Characters that no typeface at hand can print. */
  unprintable: string[];
  heightMm: number;
  /** From the left end of its longest line to the right, in mm: the width it really uses. */
  ink: { x: number; width: number };
}

interface Run {
  text: string;
  face: Typeface;
  direction: 'ltr' | 'rtl';
}

const clusters = new Intl.Segmenter(undefined, { granularity: 'grapheme' });
const wordBreaks = new Intl.Segmenter(undefined, { granularity: 'word' });
const lineSpacing = 1.15;

/** What is known of a text in a box before any letter is placed. */
export type WeighedText = Omit<FittedText, 'items'>;

interface Broken {
  lines: string[];
  sizePt: number;
  over: number;
}

/**
 * Most letters of one text that are weighed and set. A longer text never fits, however large its
 * box: the rest counts as running over. This keeps the cost of one value within bounds.
 */
export const mostLetters = 4000;
/** Most UTF-16 code units of them: a letter can carry any number of marks. */
const mostUnits = 4 * mostLetters;
/** Most of one letter in a long text; a family of four in emoji has eleven. */
const mostOfLetter = 64;

/** The checked part of a text, and how many letters come after it. */
function weighedPart(whole: string): { text: string; rest: number } {
  if (whole.length <= mostLetters) return { text: whole, rest: 0 };
  if (plainText.test(whole))
    return { text: whole.slice(0, mostLetters), rest: whole.length - mostLetters };
  let count = 0;
  let end = 0;
  for (const { segment, index } of clusters.segment(whole)) {
    if (count === mostLetters || index + segment.length > mostUnits) break;
    // no letter has so many marks, and shaping them costs with the square of their number
    if (segment.length > mostOfLetter) break;
    end = index + segment.length;
    count++;
  }
  if (end === whole.length) return { text: whole, rest: 0 };
  // marks belong to the letter before them
  const rest = whole.slice(end).match(/\P{M}/gu)?.length ?? 0;
  return { text: whole.slice(0, end), rest: Math.max(1, rest) };
}

/** Widths at size 1 that are measured again and again while one text is broken. */
type Measure = (text: string) => number;

function measureOf(style: TextStyle, fonts: FontBook): Measure {
  const known = new Map<string, number>();
  return (text) => {
    let width = known.get(text);
    if (width === undefined) known.set(text, (width = emWidth(text, style, fonts)));
    return width;
  };
}

/**
 * The first of `from` to `to` for which something holds that holds for all after it, or undefined
 * where it does not hold for the last; found by halves.
 */
function firstThat(from: number, to: number, holds: (at: number) => boolean): number | undefined {
  if (from > to || !holds(to)) return undefined;
  let [low, high] = [from, to];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(middle)) high = middle;
    else low = middle + 1;
  }
  return low;
}

/** The size and the lines in which a text fits its box, or by how many letters it does not. */
function breakText(text: string, style: TextStyle, width: number, fonts: FontBook): Broken {
  return breaker(text, style, width, fonts)(style);
}

/**
 * Breaks one text into a box for different numbers of lines and smallest sizes. Measurements for
 * one serve the next.
 */
function breaker(text: string, style: TextStyle, width: number, fonts: FontBook) {
  const { text: whole, rest } = weighedPart(text.replace(/\s+/gu, ' ').trim());
  const measure = measureOf(style, fonts);
  let words: Words | undefined;
  return ({ sizePt, minPt, lines }: Pick<TextStyle, 'sizePt' | 'minPt' | 'lines'>): Broken => {
    // nearly all fit as they are, in one line
    if (rest === 0 && (whole === '' || measure(whole) * sizePt * mmPerPoint <= width))
      return { lines: whole === '' ? [] : [whole], sizePt, over: 0 };
    words ??= splitWords(whole, measure);
    const own = words;
    const least = Math.max(0, Math.ceil((sizePt - minPt) * 2));
    const sizeAt = (step: number) => Math.max(Math.min(minPt, sizePt), sizePt - step / 2);
    const step =
      rest > 0
        ? undefined
        : firstThat(0, least, (at) => fitsBox(own, lines, sizeAt(at), width, measure));
    const size = sizeAt(step ?? least);
    const broken = breakLines(own, size * mmPerPoint, width, measure, Infinity);
    const over = step === undefined ? rest + overflow(broken, lines, size, width, measure) : 0;
    return { lines: broken, sizePt: size, over };
  };
}

/** Characters of a text that no typeface at hand can print. */
function unprintableIn(text: string, { font, han }: TextStyle, fonts: FontBook): string[] {
  if (plainText.test(text) && fonts.font(font).coversPlain) return [];
  // each character is looked for once, however often it comes
  return [...new Set(text)].filter(
    (c) => !/\s/u.test(c) && !isFormat(c) && !fonts.covering(c, font, han),
  );
}

/** Printable ASCII. */
const plainText = /^[\x20-\x7e]*$/;

/**
 * The width of a text in a box of a `width` in mm with its left edge at `x`, without laying it out:
 * for whole lists.
 */
export function weighText(
  text: string,
  style: TextStyle,
  x: number,
  width: number,
  fonts: FontBook,
): WeighedText {
  const broken = breakText(text, style, width, fonts);
  return weighed(text, broken, style, x, width, fonts);
}

function weighed(
  text: string,
  { lines, sizePt, over }: Broken,
  style: TextStyle,
  x: number,
  width: number,
  fonts: FontBook,
): WeighedText {
  let [left, right] = [x + width, x];
  for (const line of lines) {
    const long = widthOf(line, style, sizePt, fonts);
    const from = x + shiftOf(style, width, long);
    left = Math.min(left, from);
    right = Math.max(right, from + long);
  }
  return {
    sizePt,
    over,
    unprintable: unprintableIn(text, style, fonts),
    heightMm: Math.max(1, lines.length) * sizePt * mmPerPoint * lineSpacing,
    ink: { x: left, width: Math.max(left, right) - left },
  };
}

/** How far into its box a line begins. */
const shiftOf = ({ align }: TextStyle, width: number, long: number): number =>
  align === 'left' ? 0 : align === 'right' ? width - long : (width - long) / 2;

/**
 * Sets a text in a box: shrinks between its two sizes and wraps at words, and says by how much it
 * runs over if it still does.
 * @param x left edge, `y` top edge, `width` in mm
 */
export function fitText(
  text: string,
  style: TextStyle,
  x: number,
  y: number,
  width: number,
  fonts: FontBook,
): FittedText {
  const broken = breakText(text, style, width, fonts);
  const { lines, sizePt } = broken;
  const sizeMm = sizePt * mmPerPoint;
  const face = fonts.font(style.font);
  const ascent = (face.ascent / face.unitsPerEm) * sizeMm;
  const items = lines.flatMap((line, i) => {
    const baseline = y + ascent + i * sizeMm * lineSpacing;
    const laid = setLine(line, style, sizeMm, x, baseline, width, fonts);
    if (i >= style.lines) for (const item of laid.items) item.beyond = true;
    else if (laid.width > width + 0.01)
      return laid.items.flatMap((item, k) => cutAt(item, laid.ends[k]!, x, x + width));
    return laid.items;
  });
  return { items, ...weighed(text, broken, style, x, width, fonts) };
}

const isFormat = (character: string): boolean => /\p{Cf}/u.test(character);

/** Pieces of text between which a line may end, and where each begins if all stood in one line. */
interface Words {
  words: string[];
  /** At size 1, added up word by word: a first guess at where a line ends. */
  starts: number[];
}

/** Pieces of text between which a line may end; spaces stay with the word before them. */
function splitWords(text: string, measure: Measure): Words {
  const words: string[] = [];
  if (plainText.test(text)) words.push(...(text.match(/[^ -]+[-]*[ ]*|[- ]+/g) ?? []));
  else
    for (const { segment, isWordLike } of wordBreaks.segment(text)) {
      if (!isWordLike && words.length > 0) words[words.length - 1] += segment;
      else words.push(segment);
    }
  const starts = [0];
  for (const word of words) starts.push(starts[starts.length - 1]! + measure(word));
  return { words, starts };
}

/**
 * Lines of whole words, each as many as fit.
 * @param mm size of the letters; `width` of the box in mm
 * @param most lines after which it stops
 */
function breakLines(
  { words, starts }: Words,
  mm: number,
  width: number,
  measure: Measure,
  most: number,
): string[] {
  const lines: string[] = [];
  for (let from = 0; from < words.length && lines.length < most;) {
    const upTo = (to: number) => words.slice(from, to).join('').trimEnd();
    const fits = (to: number) => to <= from + 1 || measure(upTo(to)) * mm <= width;
    // the words' own widths say about where the line ends; the line itself is measured there
    let to = from + 1;
    while (to < words.length && (starts[to + 1]! - starts[from]!) * mm <= width) to++;
    if (fits(to)) while (to < words.length && fits(to + 1)) to++;
    else while (!fits(to)) to--;
    lines.push(upTo(to));
    from = to;
  }
  while (lines.length > 0 && lines[lines.length - 1] === '') lines.pop();
  return lines;
}

/** Whether a text fits its box at a size in points; stops at the end of the box. */
function fitsBox(
  words: Words,
  lines: number,
  sizePt: number,
  width: number,
  measure: Measure,
): boolean {
  const mm = sizePt * mmPerPoint;
  const broken = breakLines(words, mm, width, measure, lines + 1);
  return broken.length <= lines && broken.every((line) => measure(line) * mm <= width + 0.01);
}

/** Letters beyond the box: of lines too many, and of lines too wide. */
function overflow(
  broken: readonly string[],
  lines: number,
  sizePt: number,
  width: number,
  measure: Measure,
): number {
  const mm = sizePt * mmPerPoint;
  let over = 0;
  broken.forEach((line, i) => {
    if (i >= lines) over += letters(line).length;
    else if (measure(line) * mm > width + 0.01) {
      const all = letters(line);
      over += firstThat(0, all.length, (cut) => {
        const kept = all.slice(0, all.length - cut).join('');
        return measure(kept) * mm <= width;
      })!;
    }
  });
  return over;
}

const letters = (text: string): string[] =>
  plainText.test(text) ? text.split('') : Array.from(clusters.segment(text), (s) => s.segment);

/** Width of a line at size 1. */
function emWidth(text: string, style: TextStyle, fonts: FontBook): number {
  let width = fonts.font(style.font).plainWidth(text);
  if (width === undefined) {
    width = 0;
    for (const { face, text: part, direction } of runsOf(text, style, fonts))
      for (const glyph of face.shape(part, direction)) width += glyph.advance / face.unitsPerEm;
  }
  return width;
}

/** Width of a line in mm. */
const widthOf = (text: string, style: TextStyle, sizePt: number, fonts: FontBook): number =>
  emWidth(text, style, fonts) * sizePt * mmPerPoint;

/**
 * Runs of lines that were cut before. Bounded by their letters, not by their number: one long value
 * must not hold the memory of thousands of short ones.
 */
const runCache = new WeakMap<FontBook, LRUCache<string, Run[]>>();
const cachedLetters = 400_000;

/** Cuts a line into runs of one direction and one typeface, in visual order. */
function runsOf(
  text: string,
  { font, han }: Pick<TextStyle, 'font' | 'han'>,
  fonts: FontBook,
): readonly Run[] {
  let cache = runCache.get(fonts);
  if (!cache)
    runCache.set(
      fonts,
      (cache = new LRUCache({
        maxSize: cachedLetters,
        sizeCalculation: (_, key) => key.length,
      })),
    );
  const key = `${font} ${han ?? ''} ${text}`;
  const known = cache.get(key);
  if (known) return known;
  const runs = plainText.test(text)
    ? [{ text, face: fonts.font(font), direction: 'ltr' as const }]
    : cutRuns(text, font, han, fonts);
  cache.set(key, runs);
  return runs;
}

function cutRuns(text: string, font: string, han: HanForms | undefined, fonts: FontBook): Run[] {
  const { levels } = bidi.getEmbeddingLevels(text);
  const logical: (Run & { level: number })[] = [];
  let at = 0;
  let face = fonts.font(font);
  for (const cluster of letters(text)) {
    const level = levels[at]!;
    at += cluster.length;
    if (isFormat(cluster)) continue;
    // a space keeps the typeface it stands in, so that words of one script are not cut apart
    face = /^\s$/u.test(cluster) ? face : (fonts.covering(cluster, font, han) ?? fonts.font(font));
    const last = logical.at(-1);
    if (last && last.face === face && last.level === level) last.text += cluster;
    else logical.push({ text: cluster, face, level, direction: level % 2 ? 'rtl' : 'ltr' });
  }
  // rule L2 of the Unicode bidirectional algorithm, on whole runs
  const highest = Math.max(0, ...logical.map((run) => run.level));
  const lowestOdd = Math.min(
    ...logical.map((run) => run.level).filter((level) => level % 2),
    highest + 1,
  );
  for (let level = highest; level >= lowestOdd; level--)
    for (let i = 0; i < logical.length; i++) {
      if (logical[i]!.level < level) continue;
      let end = i;
      while (end < logical.length && logical[end]!.level >= level) end++;
      logical.splice(i, end - i, ...logical.slice(i, end).reverse());
      i = end;
    }
  return logical;
}

function setLine(
  text: string,
  style: TextStyle,
  sizeMm: number,
  x: number,
  baseline: number,
  width: number,
  fonts: FontBook,
) {
  const items: TextItem[] = [];
  const ends: number[] = [];
  let pen = 0;
  for (const run of runsOf(text, style, fonts)) {
    const scale = sizeMm / run.face.unitsPerEm;
    const start = pen;
    const glyphs: PlacedGlyph[] = run.face.shape(run.text, run.direction).map((glyph) => {
      const placed = {
        id: glyph.id,
        x: pen - start + glyph.dx * scale,
        dy: glyph.dy * scale,
        text: glyph.text,
      };
      pen += glyph.advance * scale;
      return placed;
    });
    items.push({
      kind: 'text',
      font: run.face.key,
      sizeMm,
      x: x + start,
      y: baseline,
      glyphs,
      fill: style.colour,
    });
    ends.push(x + pen);
  }
  const shift = shiftOf(style, width, pen);
  for (const item of items) item.x += shift;
  return { items, ends: ends.map((end) => end + shift), width: pen };
}

/** Cuts a part of a line, which ends at `end`, where it leaves its box at the left or the right. */
function cutAt(item: TextItem, end: number, left: number, right: number): TextItem[] {
  const parts: TextItem[] = [];
  item.glyphs.forEach((glyph, i) => {
    const start = item.x + glyph.x;
    const stop = i + 1 < item.glyphs.length ? item.x + item.glyphs[i + 1]!.x : end;
    const beyond = start < left - 0.004 || stop > right + 0.004 ? (true as const) : undefined;
    const last = parts.at(-1);
    if (last && last.beyond === beyond) last.glyphs.push({ ...glyph, x: start - last.x });
    else
      parts.push({
        ...item,
        x: start,
        glyphs: [{ ...glyph, x: 0 }],
        ...(beyond ? { beyond } : {}),
      });
  });
  return parts;
}

/** A change of its style that makes words fit: more lines, a smaller size in points, or both. */
export interface TextMend {
  lines?: number;
  minPt?: number;
}

/** Smallest size that shrinking is offered to, in points, and most lines. */
const leastPt = 5;
const mostLines = 20;

/**
 * What would make words fit, each tried: more lines alone, a smaller size alone, one more line with
 * a less small size; where none of these does, the fewest lines that do with a smaller size.
 */
export function textMends(
  text: string,
  style: TextStyle,
  width: number,
  fonts: FontBook,
): TextMend[] {
  const broken = breaker(text, style, width, fonts);
  const fits = (change: TextMend) => broken({ ...style, ...change }).over === 0;
  /** The largest size below the current smallest that fits with so many lines. */
  const shrunk = (lines = style.lines): TextMend | undefined => {
    const sizes = Math.floor((style.minPt - leastPt) * 2);
    const step = firstThat(1, sizes, (at) => fits({ lines, minPt: style.minPt - at / 2 }));
    return step === undefined
      ? undefined
      : { ...(lines === style.lines ? {} : { lines }), minPt: style.minPt - step / 2 };
  };
  const fewest = (minPt = style.minPt): number | undefined =>
    firstThat(style.lines + 1, mostLines, (lines) => fits({ lines, minPt }));
  const mends: TextMend[] = [];
  const lines = fewest();
  if (lines !== undefined) mends.push({ lines });
  const smaller = shrunk();
  if (smaller) mends.push(smaller);
  // one more line may spare the letters much of their shrinking
  const both =
    mends.length === 1 && smaller && style.lines < mostLines ? shrunk(style.lines + 1) : undefined;
  if (both && both.minPt! >= smaller!.minPt! + 1) mends.unshift(both);
  if (mends.length === 0) {
    const most = fewest(leastPt);
    if (most !== undefined) mends.push(shrunk(most) ?? { lines: most, minPt: leastPt });
  }
  return mends;
}
