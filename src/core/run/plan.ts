import { z } from 'zod';
import type { Drawing, DrawItem } from '../artwork/drawing';
import { moved } from '../artwork/drawing';
import { placeOnStock, placesOn, sheetsFor, type Place, type PlaceOrder, type Stock } from '../piece/stock';

export const runOptionsSchema = z.object({
  /** First place of the first sheet, from 1. */
  start: z.number().int().min(1).max(1000),
  order: z.enum(['across', 'down']),
  /** Pieces per record. */
  copies: z.number().int().min(1).max(100),
});
export type RunOptions = z.infer<typeof runOptionsSchema>;

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

/** Collects pieces onto their sheets. */
export class SheetBuilder {
  readonly pages: Drawing[];

  constructor(
    private readonly stock: Stock,
    private readonly start: number,
    private readonly order: PlaceOrder,
    private readonly chunk: Pick<Chunk, 'firstPage' | 'pages'>,
  ) {
    this.pages = Array.from({ length: chunk.pages }, () => ({ widthMm: stock.page.width, heightMm: stock.page.height, items: [] }));
  }

  /** Lays piece number `index` of the run on its place. */
  add(index: number, items: readonly DrawItem[]): Place {
    const place = placeOnStock(this.stock, index, this.start, this.order);
    this.pages[place.page - this.chunk.firstPage].items.push(...moved(items, place.x, place.y));
    return place;
  }
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
