import { placeOnStock, type PlaceOrder, type Stock } from '../piece/stock';

/** A code on a picture of a printed sheet: where its middle is in the picture, and on which place of the sheet it belongs, from 1. */
export interface Sighting {
  x: number;
  y: number;
  place: number;
}

interface Pair {
  from: { x: number; y: number };
  to: { x: number; y: number };
}

/** Fewest codes by which it can be told how a sheet lies in a picture. */
const fewest = 5;
/** Of them, so many must agree, or the picture says nothing of places. */
const agreeing = 0.6;
/** Most codes among which ways to lie are tried. */
const tried = 14;

/**
 * Which codes of one stamp do not stand on their place, though the others on the picture do: pieces that were swapped or stuck elsewhere. How the
 * sheet lies, turned, near or aslant, makes no difference; a sheet that is shifted as a whole is not told.
 * @returns places in mm of the sheet are compared with; what is given are indexes of `seen`
 */
export function misplaced(seen: readonly Sighting[], stock: Stock, order: PlaceOrder): number[] {
  if (seen.length < fewest) return [];
  const pairs: Pair[] = seen.map(({ x, y, place }) => {
    const seat = placeOnStock(stock, place - 1, 1, order);
    return { from: { x: seat.x, y: seat.y }, to: { x, y } };
  });
  const near =
    Math.min(
      stock.columns > 1 ? stock.pitch.x : Infinity,
      stock.rows > 1 ? stock.pitch.y : Infinity,
    ) / 2;
  let best: number[] | undefined;
  const sample = pairs.slice(0, tried);
  for (let a = 0; a < sample.length; a++)
    for (let b = a + 1; b < sample.length; b++)
      for (let c = b + 1; c < sample.length; c++) {
        const lies = lying(sample[a]!, sample[b]!, sample[c]!);
        if (!lies) continue;
        const out = pairs.flatMap(({ from, to }, i) => {
          const at = lies.put(from);
          return Math.hypot(at.x - to.x, at.y - to.y) > near * lies.scale ? [i] : [];
        });
        if (!best || out.length < best.length) best = out;
        if (best.length === 0) return [];
      }
  return best && seen.length - best.length >= Math.ceil(agreeing * seen.length) ? best : [];
}

/** How a sheet lies in a picture, by three of its places; undefined where they stand in a line, or would be seen from behind. */
function lying(a: Pair, b: Pair, c: Pair) {
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
  };
}

const minus = (a: { x: number; y: number }, b: { x: number; y: number }) => ({
  x: a.x - b.x,
  y: a.y - b.y,
});
