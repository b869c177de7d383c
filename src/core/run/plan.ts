import { outputOf, usualOutput } from './outputs';
import * as z from 'zod';
import type { Drawing, DrawItem } from '../drawing/drawing';
import { moved } from '../drawing/drawing';
import type { PlacedCode } from '../piece/piece';
import {
  placeOnStock,
  placesOn,
  sheetsFor,
  stockOf,
  type Place,
  type PlaceOrder,
  type Stock,
} from '../piece/stock';

export const runOptionsSchema = z.object({
  /** First place of the first sheet, from 1. */
  start: z.number().int().min(1).max(1000),
  order: z.enum(['across', 'down']),
  /** Pieces per record. */
  copies: z.number().int().min(1).max(1000),
  /**
   * Column that says how many pieces a record gets, in place of `copies`; blank means one, 0 none.
   */
  copiesFrom: z.string().optional(),
  /** Marks for cutting, on pages that are larger by their margin. */
  marks: z.boolean().optional(),
});
export type RunOptions = z.infer<typeof runOptionsSchema>;

/** Most pieces of one run. */
export const mostPieces = 500_000;

/** Most pieces that one record may get. */
export const mostCopies = 1000;

/**
 * The number of pieces in a cell: blank is one, 0 is none, `3`, `3.0` and `1,000` are numbers.
 * Undefined for other texts (`1.5`, `-1`, `x`), ambiguous ones (`1.000`), and more than {@link
 * mostCopies}. The query that chooses the pieces of a run does the same.
 */
export function copiesOf(text: string): number | undefined {
  const value = text.trim();
  if (value === '') return 1;
  const [, whole] = /^(\d{1,4}|\d,\d{3})(?:\.0{1,2})?$/.exec(value) ?? [];
  const count = whole === undefined ? undefined : Number(whole.replace(',', ''));
  return count !== undefined && count <= mostCopies ? count : undefined;
}

export const defaultRunOptions: RunOptions = { start: 1, order: 'across', copies: 1 };

/** A run cut into chunks of whole sheets, so that each can be made on its own and again. */
export interface Chunk {
  number: number;
  /** Pieces from `from` to before `to`, counted over the run. */
  from: number;
  to: number;
  firstPage: number;
  pages: number;
}

/** Cuts `pieces` into chunks of about `target` pieces that begin and end with a sheet. */
export function cutChunks(stock: Stock, pieces: number, start: number, target = 210): Chunk[] {
  const perPage = placesOn(stock);
  const pages = sheetsFor(stock, pieces, start);
  const pagesPerChunk = Math.max(1, Math.round(target / perPage));
  const chunks: Chunk[] = [];
  for (let first = 0; first < pages; first += pagesPerChunk) {
    const count = Math.min(pagesPerChunk, pages - first);
    const from = Math.max(0, first * perPage - (start - 1));
    const to = Math.min(pieces, (first + count) * perPage - (start - 1));
    chunks.push({ number: chunks.length, from, to, firstPage: first, pages: count });
  }
  return chunks;
}

/** The chunks of a run: whole sheets if it makes sheets, else a number of records. */
export function chunksOf(
  frozen: { piece: { stock: string; own?: Stock }; options: RunOptions; output?: { kind: string } },
  pieces: number,
): Chunk[] {
  if (outputOf(frozen.output?.kind ?? usualOutput).sheets)
    return cutChunks(stockOf(frozen.piece), pieces, frozen.options.start);
  const target = 150;
  return Array.from({ length: Math.ceil(pieces / target) }, (_, number) => ({
    number,
    from: number * target,
    to: Math.min(pieces, (number + 1) * target),
    firstPage: 0,
    pages: 0,
  }));
}

/**
 * How far a piece may reach beyond its edges: its bleed, but never over half of the gutter to the
 * piece beside it, in mm.
 */
export function reachOf({ bleed = 0, columns, rows, pitch, piece }: Stock): {
  x: number;
  y: number;
} {
  const half = (count: number, gutter: number) =>
    count > 1 ? Math.max(0, Math.min(bleed, gutter / 2)) : bleed;
  return { x: half(columns, pitch.x - piece.width), y: half(rows, pitch.y - piece.height) };
}

/**
 * A piece as it is printed: what reaches over its edges, except bleed, is cut off and covers no
 * neighbour.
 */
export function clippedPiece(
  stock: Stock,
  items: readonly DrawItem[],
  reach = reachOf(stock),
): DrawItem {
  const { width, height } = stock.piece;
  return {
    kind: 'clip',
    x: -reach.x,
    y: -reach.y,
    width: width + 2 * reach.x,
    height: height + 2 * reach.y,
    items,
  };
}

/** Collects pieces onto the pages of their sheets: one page for each side, the front first. */
export class SheetBuilder {
  readonly pages: Drawing[];

  constructor(
    private readonly stock: Stock,
    private readonly start: number,
    private readonly order: PlaceOrder,
    private readonly chunk: Pick<Chunk, 'firstPage' | 'pages'>,
    private readonly sides = 1,
  ) {
    this.pages = Array.from({ length: chunk.pages * sides }, () => ({
      widthMm: stock.page.width,
      heightMm: stock.page.height,
      items: [],
    }));
  }

  /**
   * Lays one side of piece number `index` of the run on its place. Backs lie mirrored, for sheets
   * that are turned over sideways.
   */
  add(index: number, items: readonly DrawItem[], side = 0): Place {
    const place = placeOnStock(this.stock, index, this.start, this.order);
    const x = side === 0 ? place.x : this.stock.page.width - place.x - this.stock.piece.width;
    const page = (place.page - this.chunk.firstPage) * this.sides + side;
    this.pages[page]!.items.push(...moved([clippedPiece(this.stock, items)], x, place.y));
    return { ...place, page: place.page * this.sides + side, x };
  }
}

/** A code at its position on the finished page of a sheet. */
export const movedCode = (code: PlacedCode, dx: number, dy: number): PlacedCode => ({
  ...code,
  x: code.x + dx,
  y: code.y + dy,
});

/**
 * The pages as they are printed: moved for the printer they go to, and with the marks for cutting
 * that are wanted.
 */
export function finishedPages(
  pages: readonly Drawing[],
  stock: Stock,
  {
    marks = false,
    offset = { x: 0, y: 0 },
  }: { marks?: boolean; offset?: { x: number; y: number } },
): { pages: Drawing[]; shift: { x: number; y: number } } {
  const margin = marks ? markMargin : 0;
  const shift = { x: margin + offset.x, y: margin + offset.y };
  return {
    shift,
    pages: pages.map((page) => ({
      widthMm: page.widthMm + 2 * margin,
      heightMm: page.heightMm + 2 * margin,
      items: [...moved(page.items, shift.x, shift.y), ...(marks ? cropMarks(stock) : [])],
    })),
  };
}

/** How much larger a page with marks for cutting is, on each side, in mm. */
export const markMargin = 8;

/**
 * Marks for cutting: short lines outside the page at the edges of all its places. On a page that is
 * larger by {@link markMargin}.
 */
export function cropMarks(stock: Stock): DrawItem[] {
  const hair = 0.1;
  const length = 5;
  const { page } = stock;
  const edges = (count: number, first: number, pitch: number, size: number) => [
    ...new Set(
      Array.from({ length: count }, (_, i) => [first + i * pitch, first + i * pitch + size])
        .flat()
        .map((n) => Math.round(n * 100) / 100),
    ),
  ];
  const line = (x: number, y: number, width: number, height: number): DrawItem => ({
    kind: 'rect',
    x,
    y,
    width,
    height,
    fill: '#000000',
  });
  return [
    ...edges(stock.columns, stock.margin.left, stock.pitch.x, stock.piece.width).flatMap((x) => [
      line(markMargin + x - hair / 2, 0, hair, length),
      line(markMargin + x - hair / 2, page.height + 2 * markMargin - length, hair, length),
    ]),
    ...edges(stock.rows, stock.margin.top, stock.pitch.y, stock.piece.height).flatMap((y) => [
      line(0, markMargin + y - hair / 2, length, hair),
      line(page.width + 2 * markMargin - length, markMargin + y - hair / 2, length, hair),
    ]),
  ];
}

/** A file name that every system takes: letters, digits, hyphens; never empty. */
export function safeFileName(name: string): string {
  const clean = name
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80);
  return clean || 'run';
}
