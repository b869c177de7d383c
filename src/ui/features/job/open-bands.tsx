'use client';

/**
 * What only the open Piece and Run bands show: their sentences, and what lies over the rows. They
 * come when the band is first opened, and ahead of that once the browser has nothing to do
 * (decision 79). Records and stamps come with the page: most open those at once. What every row
 * shows of a band is in its cell, which comes with the page too.
 */
import dynamic from 'next/dynamic';
import type { ComponentType } from 'react';
import type { LedgerRow } from '../../../contract';
import type { GroundKind } from '../../../core/piece/ground';
import { late, type Late } from '../../kit/late';
import type { Band } from '../../shell/ledger/context';
import { DocumentCell } from '../documents/document-cell';
import { PieceCell } from '../piece/piece-cell';

export const RunSentence = late(
  dynamic(() => import('../run/sentence').then((m) => m.RunSentence)),
  () => import('../run/sentence').then((m) => m.RunSentence),
);
export const RunBand = late(
  dynamic(() => import('../run/band').then((m) => m.RunBand)),
  () => import('../run/band').then((m) => m.RunBand),
);
const PieceSentence = late(
  dynamic(() => import('../piece/piece').then((m) => m.PieceSentence)),
  () => import('../piece/piece').then((m) => m.PieceSentence),
);
const PieceBand = late(
  dynamic(() => import('../piece/piece-band').then((m) => m.PieceBand)),
  () => import('../piece/piece-band').then((m) => m.PieceBand),
);
const DocumentSentence = late(
  dynamic(() => import('../documents/document-sentence').then((m) => m.DocumentSentence)),
  () => import('../documents/document-sentence').then((m) => m.DocumentSentence),
);
const DocumentBand = late(
  dynamic(() => import('../documents/document-band').then((m) => m.DocumentBand)),
  () => import('../documents/document-band').then((m) => m.DocumentBand),
);
const PdfsSentence = late(
  dynamic(() => import('../documents/pdfs').then((m) => m.PdfsSentence)),
  () => import('../documents/pdfs').then((m) => m.PdfsSentence),
);
const PdfsBand = late(
  dynamic(() => import('../documents/pdfs').then((m) => m.PdfsBand)),
  () => import('../documents/pdfs').then((m) => m.PdfsBand),
);

/** What the Piece band shows, by what the piece is put on. */
interface OnGround {
  Sentence: Late;
  Band: Late;
  /** Of a record, while another band is open. */
  Cell: ComponentType<{ record: LedgerRow }>;
}
export const pieceBands: Record<GroundKind, OnGround> = {
  stock: { Sentence: PieceSentence, Band: PieceBand, Cell: PieceCell },
  document: { Sentence: DocumentSentence, Band: DocumentBand, Cell: DocumentCell },
  html: { Sentence: DocumentSentence, Band: DocumentBand, Cell: DocumentCell },
  pdfs: { Sentence: PdfsSentence, Band: PdfsBand, Cell: DocumentCell },
};

const partsOf = (band: Band, ground: GroundKind): readonly Late[] => {
  if (band === 'run') return [RunSentence, RunBand];
  return band === 'piece' ? [pieceBands[ground].Sentence, pieceBands[ground].Band] : [];
};

/**
 * Fetches what a band shows when it is open.
 *
 * @returns undefined where all of it is here. It never fails; whether it came, asking again tells
 */
export function fetchBand(band: Band, ground: GroundKind): Promise<unknown> | undefined {
  const missing = partsOf(band, ground).filter((part) => !part.isHere());
  return missing.length === 0 ? undefined : Promise.all(missing.map((part) => part.ahead()));
}
