/** Label stock by its measures. All lengths in mm. */
export interface Stock {
  id: string;
  /** By measure, as people say it. */
  name: string;
  page: { width: number; height: number };
  columns: number;
  rows: number;
  piece: { width: number; height: number };
  /** Top left of the first place. */
  margin: { left: number; top: number };
  /** From one place to the next, centre to centre. */
  pitch: { x: number; y: number };
  cornerRadius: number;
}

const a4 = { width: 210, height: 297 };

/** Stock with equal places, centred on its page. */
function sheet(
  id: string,
  name: string,
  page: Stock['page'],
  columns: number,
  rows: number,
  piece: Stock['piece'],
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

/** To add a stock, add its measures here. */
export const stocks: readonly Stock[] = [
  sheet('a4-21', 'A4 sheets of 21, 63.5 × 38.1 mm', a4, 3, 7, { width: 63.5, height: 38.1 }, { x: 2.5, y: 0 }, 2),
  sheet('a4-10', 'A4 sheets of 10, 90 × 54 mm', a4, 2, 5, { width: 90, height: 54 }, { x: 0, y: 0 }),
  sheet('a4-8', 'A4 sheets of 8, 99.1 × 67.7 mm', a4, 2, 4, { width: 99.1, height: 67.7 }, { x: 2.5, y: 0 }, 2),
];

export function stockById(id: string): Stock {
  return stocks.find((stock) => stock.id === id) ?? stocks[0];
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

/** Where the piece number `index` (from 0) lies when filling starts at `start` (from 1) of the first sheet. */
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
