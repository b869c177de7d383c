import { readFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { LRUCache } from 'lru-cache';
import subsetFont from 'subset-font';
import { charactersOf, fontCatalogue, slicesOf } from '../../core/artwork/font-catalogue';
import { FontBook } from '../../core/artwork/fonts';
import { fontsForPiece } from '../../core/piece/piece';
import type { Piece } from '../../core/piece/model';
import type { Values } from '../../core/records/columns';
import { packageFile } from './packages';

/** @param file with its package before it, which has a scope */
function pathOf(file: string): string {
  const [scope, name, ...path] = file.split('/');
  return packageFile(`${scope}/${name}`, path.join('/'));
}
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

const parts = new LRUCache<string, Promise<Uint8Array>>({ max: 200 });

/**
 * A part of a large typeface for the browser, with everything that shapes its characters; undefined
 * if there is none.
 */
export async function fontPart(key: string, slice: number): Promise<Uint8Array | undefined> {
  if (!slicesOf(key).includes(slice)) return undefined;
  const name = `${key}/${slice}`;
  let part = parts.get(name);
  if (!part) {
    part = fontFile(key).then((file) => subsetFont(Buffer.from(file!), charactersOf(slice)));
    parts.set(name, part);
    part.catch(() => parts.delete(name));
  }
  return part;
}
