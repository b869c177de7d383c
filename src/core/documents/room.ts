import { mapped } from '../base/tuple';
import { corners, isCorner, type Corner, type PdfsGround } from '../piece/ground';
import type { ShownPage } from './pdf';
import { cornerPlace, pagesWithCode, withCaption } from './place';

/** Side of a cell of the grid that records where a page has ink, in mm. */
export const cellMm = 3;
/** The free margin around a code, in mm. */
const spareMm = 1;

/** Records where a page has ink: a bit for each cell, row by row from the top left, in base64. */
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
        bits[at >> 3]! |= 1 << (at & 7);
      }
  return btoa(String.fromCharCode(...bits));
}

export const cellsOf = ({ widthMm, heightMm }: Pick<ShownPage, 'widthMm' | 'heightMm'>) => ({
  columns: Math.max(1, Math.ceil(widthMm / cellMm)),
  rows: Math.max(1, Math.ceil(heightMm / cellMm)),
});

/**
 * Whether anything is in an area of a page, in mm from its top left; false for a page that was not
 * analysed.
 */
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
      if (bits[at >> 3]! & (1 << (at & 7))) return true;
    }
  return false;
}

const sizeOf = (ground: PdfsGround) =>
  withCaption(ground, { widthMm: ground.sizeMm, heightMm: ground.sizeMm });

/**
 * The first page that carries a code and has something at its place, from 0; undefined if there is
 * room on all.
 */
export function coveredPage(ground: PdfsGround, pages: readonly ShownPage[]): number | undefined {
  const size = sizeOf(ground);
  return pagesWithCode(ground, pages.length).find((number) =>
    hasInk(pages[number]!, {
      ...cornerPlace(ground, pages[number]!, size),
      ...{ width: size.widthMm, height: size.heightMm },
    }),
  );
}

/** A place on a page by its distances from a corner or an edge, in mm. */
export type Place = Pick<PdfsGround, 'corner' | 'acrossMm' | 'downMm'>;

/** The free margin along the edges of a page, in mm. */
const edgeMm = 2 * cellMm;

/** Where none of the added pages has anything, measured from one corner of each. */
export class FreeSpace {
  private columns = Infinity;
  private rows = Infinity;
  private readonly taken = new Map<number, Set<number>>();

  constructor(private readonly corner: Corner) {}

  add(page: ShownPage): void {
    const { widthMm, heightMm, ink } = page;
    this.columns = Math.min(this.columns, Math.floor(widthMm / cellMm));
    this.rows = Math.min(this.rows, Math.floor(heightMm / cellMm));
    if (!ink) return;
    const { columns, rows } = cellsOf(page);
    const bits = Uint8Array.from(atob(ink), (c) => c.charCodeAt(0));
    const fromCorner = (cell: number, whole: number, far: boolean): [number, number] => {
      const [low, high] = [cell * cellMm, (cell + 1) * cellMm];
      const [a, b] = far ? [whole - high, whole - low] : [low, high];
      return [Math.max(0, Math.floor(a / cellMm)), Math.floor((b - 1e-6) / cellMm)];
    };
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const at = row * columns + column;
        if (!(bits[at >> 3]! & (1 << (at & 7)))) continue;
        const [left, right] = fromCorner(column, widthMm, this.corner.endsWith('right'));
        const [top, bottom] = fromCorner(row, heightMm, this.corner.startsWith('bottom'));
        for (let y = top; y <= bottom; y++) {
          const line = this.taken.get(y) ?? new Set<number>();
          this.taken.set(y, line);
          for (let x = left; x <= right; x++) line.add(x);
        }
      }
  }

  /** The free place of a size that is nearest to the corner; undefined if there is none. */
  nearest({ widthMm, heightMm }: { widthMm: number; heightMm: number }): Place | undefined {
    if (!Number.isFinite(this.columns)) return undefined;
    const { columns, rows } = this;
    // sums over everything nearer to the corner, which count any rectangle in one step
    const sums = Array.from({ length: rows + 1 }, () => new Uint32Array(columns + 1));
    for (let y = 0; y < rows; y++)
      for (let x = 0; x < columns; x++)
        sums[y + 1]![x + 1] =
          sums[y]![x + 1]! + sums[y + 1]![x]! - sums[y]![x]! + (this.taken.get(y)?.has(x) ? 1 : 0);
    const [wide, high] = mapped([widthMm, heightMm], (mm) => Math.ceil((mm + spareMm) / cellMm));
    const first = edgeMm / cellMm;
    let best: { x: number; y: number } | undefined;
    for (let y = first; y + high <= rows - first; y++)
      for (let x = first; x + wide <= columns - first; x++) {
        if (best && x + y >= best.x + best.y) break;
        // one more towards the corner, for the margin
        const [x0, y0, x1, y1] = [x - 1, y - 1, x + wide, y + high];
        if (sums[y1]![x1]! - sums[y0]![x1]! - sums[y1]![x0]! + sums[y0]![x0]! === 0)
          best = { x, y };
      }
    return best && { corner: this.corner, acrossMm: best.x * cellMm, downMm: best.y * cellMm };
  }
}

/**
 * The place of the code on a document: the chosen one, or where that document has room, if that is
 * allowed.
 */
export function placeOn(ground: PdfsGround, pages: readonly ShownPage[]): Place {
  const { corner, acrossMm, downMm } = ground;
  const said = { corner, acrossMm, downMm };
  if (!ground.each || coveredPage(ground, pages) === undefined) return said;
  const nearest = isCorner(corner) ? [corner] : [];
  for (const near of [...nearest, ...corners.filter((c) => c !== corner)]) {
    const free = new FreeSpace(near);
    for (const number of pagesWithCode(ground, pages.length)) free.add(pages[number]!);
    const found = free.nearest(sizeOf(ground));
    if (found) return found;
  }
  return said;
}
