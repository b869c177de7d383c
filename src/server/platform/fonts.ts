import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { FontBook, fontCatalogue } from '../../core/artwork/fonts';
import { fontsForPiece, type Piece } from '../../core/piece/piece';
import type { Values } from '../../core/records/columns';

const pathOf = (file: string): string => join(process.cwd(), 'node_modules', file);
const book = new FontBook();

/** The typefaces of the catalogue, each read from its package when first needed. */
export function fontBook(keys: Iterable<string>): FontBook {
  for (const key of keys) {
    const entry = fontCatalogue.find((e) => e.key === key);
    if (entry && !book.has(key)) book.add(key, readFileSync(pathOf(entry.file)));
  }
  return book;
}

/** The typefaces that the pieces of some records need. */
export function fontsOf(piece: Piece, records: readonly Values[]): FontBook {
  fontBook(fontsForPiece(piece, records));
  return fontBook(fontsForPiece(piece, records, book));
}

/** The file of a typeface for the browser; undefined for an unknown key. */
export async function fontFile(key: string): Promise<Uint8Array | undefined> {
  const entry = fontCatalogue.find((e) => e.key === key);
  return entry && readFile(pathOf(entry.file));
}
