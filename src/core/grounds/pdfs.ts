import type { ShownPage } from '../documents/pdf';
import type { Piece } from '../piece/model';
import type { PdfsGround } from '../piece/ground';
import type { Values } from '../records/columns';
import type { GroundDescription } from './ground';

/** The PDF of a record. */
export interface PdfOfRecord {
  document: number;
  name: string;
  pages: ShownPage[];
  signed: boolean;
  /** How many there are for it; only one can be meant. */
  of: number;
}

/**
 * The key under which the PDF of a record is stored among its values, when it is checked and when a
 * run is frozen.
 */
export const pdfKey = 'the PDF';
export function pdfOf(values: Values): PdfOfRecord | undefined {
  const text = values[pdfKey];
  return text ? (JSON.parse(text) as PdfOfRecord) : undefined;
}

/** @throws Error when the piece is put on something else */
export function pdfsOf(piece: Piece): PdfsGround {
  if (piece.ground?.kind !== 'pdfs') throw new Error('this piece does not use PDFs');
  return piece.ground;
}

/** Documents that are there already, each with the code of its record put on it. */
export const pdfs: GroundDescription = {
  kind: 'pdfs',
  name: 'PDFs that exist',
  about: 'agreements, invoices, certificates that are finished: each finds its record',
  called: (piece) => pdfsOf(piece).name,
  stampsOn: (piece) => [pdfsOf(piece).stamp],
  columnsOn: (piece) => [
    pdfsOf(piece).column,
    ...(pdfsOf(piece).caption ?? []).flatMap((p) => (p.kind === 'column' ? [p.column] : [])),
  ],
  usualOutput: 'pdfs-each',
};
