import { counted, listed } from '../base/words';
import { placeOnStock, type PlaceOrder, type Stock } from '../piece/stock';

/**
 * A code on a picture of a printed sheet: where its middle is in the picture, and on which place of
 * the sheet it belongs, from 1.
 */
export interface Sighting {
  x: number;
  y: number;
  place: number;
}

interface Pair {
  from: { x: number; y: number };
  to: { x: number; y: number };
}

/** The fewest codes from which the position of a sheet in a picture can be calculated. */
const fewest = 5;
/** So many of them must agree, or the picture says nothing about positions. */
const agreeing = 0.6;
/** Most codes among which ways to lie are tried. */
const tried = 14;

/** The position of a sheet in a picture. */
export interface Lying {
  /** Codes that are not at their seat although the others are: indexes of what was seen. */
  misplaced: number[];
  /**
   * A point of the picture on the sheet, in mm, as the top left of a piece whose code is there.
   */
  onSheet(at: { x: number; y: number }): { x: number; y: number };
}

/** What pictures of the sheets show at a run's seats. Lengths in mm. */
export interface PaperMarks {
  misplaced: { page: number; place: number; stamp: string }[];
  /** Codes that are not of the run, as the top left of a piece that would have them. */
  others: { page: number; x: number; y: number }[];
}

/**
 * The position of a sheet in a picture, by the codes of one stamp. Rotation, distance and slant
 * make no difference. A sheet that is shifted as a whole is not noticed; pieces that were swapped
 * or stuck elsewhere are.
 * @returns undefined if too few are seen, or they contradict one another
 */
export function lies(
  seen: readonly Sighting[],
  stock: Stock,
  order: PlaceOrder,
): Lying | undefined {
  if (seen.length < fewest) return undefined;
  const pairs: Pair[] = seen.map(({ x, y, place }) => {
    const seat = placeOnStock(stock, place - 1, 1, order);
    return { from: { x: seat.x, y: seat.y }, to: { x, y } };
  });
  const near =
    Math.min(
      stock.columns > 1 ? stock.pitch.x : Infinity,
      stock.rows > 1 ? stock.pitch.y : Infinity,
    ) / 2;
  let best: Lying | undefined;
  const sample = pairs.slice(0, tried);
  for (let a = 0; a < sample.length; a++)
    for (let b = a + 1; b < sample.length; b++)
      for (let c = b + 1; c < sample.length; c++) {
        if (best?.misplaced.length === 0) return best;
        const lying = lyingBy(sample[a]!, sample[b]!, sample[c]!);
        if (!lying) continue;
        const misplaced = pairs.flatMap(({ from, to }, i) => {
          const at = lying.put(from);
          return Math.hypot(at.x - to.x, at.y - to.y) > near * lying.scale ? [i] : [];
        });
        if (!best || misplaced.length < best.misplaced.length)
          best = { misplaced, onSheet: lying.back };
      }
  const agree = best && seen.length - best.misplaced.length >= Math.ceil(agreeing * seen.length);
  return agree ? best : undefined;
}

/**
 * The position of a sheet in a picture, by three of its codes; undefined if they are in a line, or
 * mirrored.
 */
function lyingBy(a: Pair, b: Pair, c: Pair) {
  const [u, v] = [minus(b.from, a.from), minus(c.from, a.from)];
  const area = u.x * v.y - u.y * v.x;
  if (Math.abs(area) < 1) return undefined;
  const [p, q] = [minus(b.to, a.to), minus(c.to, a.to)];
  const seen = p.x * q.y - p.y * q.x;
  if (seen / area <= 0) return undefined;
  return {
    scale: Math.sqrt(seen / area),
    put: (at: { x: number; y: number }) => {
      const d = minus(at, a.from);
      const s = (d.x * v.y - d.y * v.x) / area;
      const r = (u.x * d.y - u.y * d.x) / area;
      return { x: a.to.x + s * p.x + r * q.x, y: a.to.y + s * p.y + r * q.y };
    },
    back: (at: { x: number; y: number }) => {
      const d = minus(at, a.to);
      const s = (d.x * q.y - d.y * q.x) / seen;
      const r = (p.x * d.y - p.y * d.x) / seen;
      return { x: a.from.x + s * u.x + r * v.x, y: a.from.y + s * u.y + r * v.y };
    },
  };
}

const minus = (a: { x: number; y: number }, b: { x: number; y: number }) => ({
  x: a.x - b.x,
  y: a.y - b.y,
});

/**
 * A scan shows the whole sheet and nothing else if its sides agree with the sheet's so far, and its
 * codes are as large and as straight.
 */
const scanWithin = { sides: 0.02, scale: 0.02, turn: (3.5 * Math.PI) / 180 };

/**
 * By how much a whole sheet was printed beside its place, in mm to the right and down, by the feed
 * of a printer. Only a scan shows it, which is as large as the sheet; a photograph has no edge to
 * measure from.
 * @param centre of the code on its piece, in mm
 * @param picture in px
 * @param margin around the stock's page for the cut marks, in mm
 * @returns undefined if the picture is not such a scan, or shows too few codes
 */
export function shiftOf(
  seen: readonly Sighting[],
  stock: Stock,
  order: PlaceOrder,
  centre: { x: number; y: number },
  picture: { width: number; height: number },
  margin = 0,
): { x: number; y: number } | undefined {
  if (seen.length < fewest) return undefined;
  const page = { width: stock.page.width + 2 * margin, height: stock.page.height + 2 * margin };
  const perMm = picture.width / page.width;
  if (Math.abs(picture.height / page.height / perMm - 1) > scanWithin.sides) return undefined;
  const pairs: Pair[] = seen.map(({ x, y, place }) => {
    const seat = placeOnStock(stock, place - 1, 1, order);
    return {
      from: { x: seat.x + centre.x + margin, y: seat.y + centre.y + margin },
      to: { x: x / perMm, y: y / perMm },
    };
  });
  // the two that are farthest apart give size and rotation
  const [first] = pairs;
  const far = (from: Pair) =>
    pairs.reduce((a, b) =>
      length(minus(b.from, from.from)) > length(minus(a.from, from.from)) ? b : a,
    );
  const one = far(first!);
  const other = far(one);
  const [should, is] = [minus(other.from, one.from), minus(other.to, one.to)];
  const turn = Math.atan2(should.x * is.y - should.y * is.x, should.x * is.x + should.y * is.y);
  if (
    Math.abs(length(is) / length(should) - 1) > scanWithin.scale ||
    Math.abs(turn) > scanWithin.turn
  )
    return undefined;
  const mean = (of: (pair: Pair) => number) =>
    pairs.reduce((sum, pair) => sum + of(pair), 0) / pairs.length;
  // a rotation about the middle of the sheet moves the codes' middle, if they are not around it
  const at = {
    x: mean((p) => p.from.x) - page.width / 2,
    y: mean((p) => p.from.y) - page.height / 2,
  };
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return {
    x: mean((p) => p.to.x) - (page.width / 2 + at.x * cos - at.y * sin),
    y: mean((p) => p.to.y) - (page.height / 2 + at.x * sin + at.y * cos),
  };
}

const length = ({ x, y }: { x: number; y: number }): number => Math.hypot(x, y);

/** A shift of less is none, in mm: paper is cut and fed no better. */
const noShift = 0.8;

/** A shift in words: `2.1 mm too far right and 3.0 mm too low`; blank if it is negligible. */
export function shiftInWords({ x, y }: { x: number; y: number }): string {
  const mm = (n: number) => `${Math.abs(n).toFixed(1)} mm`;
  return [
    Math.abs(x) >= noShift && `${mm(x)} too far ${x > 0 ? 'right' : 'left'}`,
    Math.abs(y) >= noShift && `${mm(y)} too ${y > 0 ? 'low' : 'high'}`,
  ]
    .filter((part) => part !== false)
    .join(' and ');
}

/** Pages in words: `pages 1, 2 and 5`. */
export const pagesIn = (pages: readonly number[]): string =>
  pages.length === 1 ? `page ${pages[0]}` : `pages ${listed(pages.map(String))}`;

/** How many of the codes read: `18 of 20 codes`, `20 codes`. */
export const readOf = ({ found, printed }: { found: number; printed: number }): string =>
  found < printed ? `${found} of ${counted(printed, 'code')}` : counted(found, 'code');
