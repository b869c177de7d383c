import type { PdfsGround } from '../piece/ground';
import type { ShownPage } from './pdf';
import { cornerPlace, pagesWithCode } from './where';

/** Side of a cell in which it is noted whether anything stands on a page, in mm. */
export const cellMm = 3;
/** What is kept free round a code, in mm. */
const spareMm = 1;

/** Notes where a page has ink: a bit for each cell, row by row from the top left, in base64. */
export function inkMap(
  isInk: (column: number, row: number) => boolean,
  columns: number,
  rows: number,
): string {
  const bits = new Uint8Array(Math.ceil((columns * rows) / 8));
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      if (isInk(column, row)) {
        const at = row * columns + column;
        bits[at >> 3] |= 1 << (at & 7);
      }
  return btoa(String.fromCharCode(...bits));
}

export const cellsOf = ({ widthMm, heightMm }: Pick<ShownPage, 'widthMm' | 'heightMm'>) => ({
  columns: Math.max(1, Math.ceil(widthMm / cellMm)),
  rows: Math.max(1, Math.ceil(heightMm / cellMm)),
});

/** Whether anything stands in an area of a page, in mm from its top left; of a page that was not looked at nothing is known. */
function hasInk(
  page: ShownPage,
  area: { x: number; y: number; width: number; height: number },
): boolean {
  if (!page.ink) return false;
  const { columns, rows } = cellsOf(page);
  const bits = Uint8Array.from(atob(page.ink), (c) => c.charCodeAt(0));
  const from = (mm: number) => Math.max(0, Math.floor((mm - spareMm) / cellMm));
  const to = (mm: number, most: number) => Math.min(most - 1, Math.floor((mm + spareMm) / cellMm));
  for (let row = from(area.y); row <= to(area.y + area.height, rows); row++)
    for (let column = from(area.x); column <= to(area.x + area.width, columns); column++) {
      const at = row * columns + column;
      if (bits[at >> 3] & (1 << (at & 7))) return true;
    }
  return false;
}

/** The first page that carries a code and has something where the code comes, from 0; undefined where there is room on all. */
export function coveredPage(ground: PdfsGround, pages: readonly ShownPage[]): number | undefined {
  const size = { widthMm: ground.sizeMm, heightMm: ground.sizeMm };
  return pagesWithCode(ground, pages.length).find((number) =>
    hasInk(pages[number], {
      ...cornerPlace(ground, pages[number], size),
      width: ground.sizeMm,
      height: ground.sizeMm,
    }),
  );
}
