import * as z from 'zod';

const size = z.object({ width: z.number().min(5).max(1300), height: z.number().min(5).max(1300) });

/** Label stock by its measures. All lengths in mm. */
export const stockSchema = z.object({
  id: z.string().max(40),
  /** By measure, as people say it. */
  name: z.string().min(1).max(120),
  page: size,
  columns: z.number().int().min(1).max(60),
  rows: z.number().int().min(1).max(100),
  piece: size,
  /** Top left of the first place. */
  margin: z.object({ left: z.number().min(0).max(600), top: z.number().min(0).max(600) }),
  /** From one place to the next, edge to edge. */
  pitch: z.object({ x: z.number().min(1).max(1300), y: z.number().min(1).max(1300) }),
  cornerRadius: z.number().min(0).max(100),
  /** Artwork may reach this far beyond the piece, to be cut away. */
  bleed: z.number().min(0).max(10).optional(),
  /** Where the piece is folded, from its top. */
  fold: z.number().min(1).optional(),
});
export type Stock = z.infer<typeof stockSchema>;

type Size = Stock['page'];
const inch = (n: number): number => Math.round(n * 25_400) / 1000;
const a4 = { width: 210, height: 297 };
const letter = { width: inch(8.5), height: inch(11) };

/** Stock with equal places, centred on its page. */
function sheet(
  id: string,
  name: string,
  page: Size,
  columns: number,
  rows: number,
  piece: Size,
  gutter: { x: number; y: number },
  cornerRadius = 0,
): Stock {
  const pitch = { x: piece.width + gutter.x, y: piece.height + gutter.y };
  const margin = {
    left: (page.width - (columns * pitch.x - gutter.x)) / 2,
    top: (page.height - (rows * pitch.y - gutter.y)) / 2,
  };
  return { id, name, page, columns, rows, piece, margin, pitch, cornerRadius };
}

/** Stock of which every piece is a page of its own: rolls, cards, postcards, signs. */
const single = (
  id: string,
  name: string,
  width: number,
  height: number,
  more: Partial<Stock> = {},
): Stock => ({
  id,
  name,
  page: { width, height },
  columns: 1,
  rows: 1,
  piece: { width, height },
  margin: { left: 0, top: 0 },
  pitch: { x: width, y: height },
  cornerRadius: 0,
  ...more,
});

/** To add a stock, add its measures here. */
export const stocks: readonly Stock[] = [
  sheet('a4-21', 'A4 sheets of 21, 63.5 × 38.1 mm', a4, 3, 7, { width: 63.5, height: 38.1 }, { x: 2.5, y: 0 }, 2),
  sheet('a4-24', 'A4 sheets of 24, 70 × 37 mm', a4, 3, 8, { width: 70, height: 37 }, { x: 0, y: 0 }),
  sheet('a4-65', 'A4 sheets of 65, 38.1 × 21.2 mm', a4, 5, 13, { width: 38.1, height: 21.2 }, { x: 2.5, y: 0 }, 1),
  sheet('a4-14', 'A4 sheets of 14, 99.1 × 38.1 mm', a4, 2, 7, { width: 99.1, height: 38.1 }, { x: 2.5, y: 0 }, 2),
  sheet('a4-10', 'A4 sheets of 10, 90 × 54 mm', a4, 2, 5, { width: 90, height: 54 }, { x: 0, y: 0 }),
  sheet('a4-8', 'A4 sheets of 8, 99.1 × 67.7 mm', a4, 2, 4, { width: 99.1, height: 67.7 }, { x: 2.5, y: 0 }, 2),
  sheet('a4-4', 'A4 sheets of 4, A6 postcards, 105 × 148 mm', a4, 2, 2, { width: 105, height: 148 }, { x: 0, y: 0 }),
  sheet('a4-2', 'A4 sheets of 2, A5 signs, 210 × 148 mm', a4, 1, 2, { width: 210, height: 148 }, { x: 0, y: 0 }),
  sheet('letter-30', 'Letter sheets of 30, 2⅝ × 1 in', letter, 3, 10, { width: inch(2.625), height: inch(1) }, { x: inch(0.125), y: 0 }, 1.6),
  sheet('letter-10', 'Letter sheets of 10, 4 × 2 in', letter, 2, 5, { width: inch(4), height: inch(2) }, { x: inch(0.17), y: 0 }, 1.6),
  sheet('letter-8', 'Letter sheets of 8 badges, 3⅜ × 2⅓ in', letter, 2, 4, { width: inch(3.375), height: inch(2.333) }, { x: inch(0.375), y: inch(0.2) }, 1.6),
  single('roll-57-32', 'roll of labels, 57 × 32 mm', 57, 32, { cornerRadius: 2 }),
  single('roll-100-50', 'roll of labels, 100 × 50 mm', 100, 50, { cornerRadius: 2 }),
  single('roll-100-150', 'roll of labels, 100 × 150 mm', 100, 150, { cornerRadius: 2 }),
  single('card', 'plastic cards, 85.6 × 54 mm', 85.6, 54, { cornerRadius: 3, bleed: 1 }),
  single('a6-postcard', 'postcards, A6, 148 × 105 mm', 148, 105, { bleed: 3 }),
  single('postcard-6-4', 'postcards, 6 × 4 in', inch(6), inch(4), { bleed: 3.2 }),
  single('a6-sign', 'signs, A6 upright, 105 × 148 mm', 105, 148, { bleed: 3 }),
  single('a5-sign', 'signs, A5, 210 × 148 mm', 210, 148, { bleed: 3 }),
  single('a4-sign', 'signs, A4 upright, 210 × 297 mm', 210, 297, { bleed: 3 }),
  sheet('tent', 'table tents, 2 on A4, 210 × 148 mm, folded across', a4, 1, 2, { width: 210, height: 148 }, { x: 0, y: 0 }),
].map((stock) => (stock.id === 'tent' ? { ...stock, fold: 74 } : stock)); // prettier-ignore

const uses: Readonly<Record<string, string>> = {
  'a4-21': 'labels for addresses, packets, jars',
  'a4-24': 'labels for addresses, without gutters',
  'a4-65': 'small labels for prices, tools, plants',
  'a4-14': 'wide labels for addresses and shelves',
  'a4-10': 'badges and name cards, to be cut',
  'a4-8': 'large labels for parcels and boxes, or badges',
  'a4-4': 'postcards, to be cut',
  'a4-2': 'signs, to be cut',
  'letter-30': 'labels for addresses, packets, jars',
  'letter-10': 'large labels for parcels and boxes',
  'letter-8': 'badges',
  'roll-57-32': 'label printer: tools, shelves, prices',
  'roll-100-50': 'label printer: shelves and boxes',
  'roll-100-150': 'label printer: parcels',
  card: 'card printer: badges, members, staff',
  'a6-postcard': 'printed two-sided and cut by a printer’s',
  'postcard-6-4': 'printed two-sided and cut by a printer’s',
  'a6-sign': 'one on a page',
  'a5-sign': 'one on a page',
  'a4-sign': 'one on a page',
  tent: 'for a table',
};

/** The use of a stock, and how its seats are arranged; for own measures the latter only. */
export function aboutStock(stock: Stock): string {
  const lie = placesOn(stock) > 1 ? `${stock.columns} across, ${stock.rows} down` : '';
  return [uses[stock.id], lie].filter(Boolean).join('; ');
}

export function stockById(id: string): Stock {
  return stocks.find((stock) => stock.id === id) ?? stocks[0]!;
}

/** The stock of a piece: its own measures where it has them, else one of the catalogue. */
export const stockOf = (piece: { stock: string; own?: Stock }): Stock =>
  piece.own ?? stockById(piece.stock);

/** What is impossible about measures, in words; empty if they can be printed. */
export function stockTroubles({ page, columns, rows, piece, margin, pitch }: Stock): string[] {
  const troubles: string[] = [];
  const slack = 0.05;
  const mm = (n: number) => `${Math.round(n * 10) / 10} mm`;
  const right = margin.left + (columns - 1) * pitch.x + piece.width - page.width;
  const bottom = margin.top + (rows - 1) * pitch.y + piece.height - page.height;
  if (columns > 1 && pitch.x < piece.width - slack)
    troubles.push(
      `Labels overlap: a new one starts every ${mm(pitch.x)} across, but each is ${mm(piece.width)} wide. Make the gutter larger or the label narrower.`,
    );
  if (rows > 1 && pitch.y < piece.height - slack)
    troubles.push(
      `Labels overlap: a new one starts every ${mm(pitch.y)} down, but each is ${mm(piece.height)} high. Make the gutter larger or the label lower.`,
    );
  if (right > slack)
    troubles.push(`The last column goes over the edge of the sheet by ${mm(right)}.`);
  if (bottom > slack)
    troubles.push(`The last row goes over the edge of the sheet by ${mm(bottom)}.`);
  return troubles;
}

export const placesOn = (stock: Stock): number => stock.columns * stock.rows;

export type PlaceOrder = 'across' | 'down';

export interface Place {
  /** Page from 0 and place on it from 0, in the order of filling. */
  page: number;
  place: number;
  /** Top left on the page, in mm. */
  x: number;
  y: number;
}

/**
 * Where the piece number `index` (from 0) lies when filling starts at `start` (from 1) of the first
 * sheet.
 */
export function placeOnStock(stock: Stock, index: number, start: number, order: PlaceOrder): Place {
  const perPage = placesOn(stock);
  const running = index + start - 1;
  const place = running % perPage;
  const column = order === 'across' ? place % stock.columns : Math.floor(place / stock.rows);
  const row = order === 'across' ? Math.floor(place / stock.columns) : place % stock.rows;
  return {
    page: Math.floor(running / perPage),
    place,
    x: stock.margin.left + column * stock.pitch.x,
    y: stock.margin.top + row * stock.pitch.y,
  };
}

/** Sheets that `count` pieces need when the first lies on place `start`. */
export function sheetsFor(stock: Stock, count: number, start: number): number {
  return count === 0 ? 0 : Math.ceil((count + start - 1) / placesOn(stock));
}
