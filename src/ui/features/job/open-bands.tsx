'use client';

/**
 * What only an open band shows: its sentence, and what lies over the rows. One band is open at a
 * time, so each comes when it is first opened, and ahead of that once the browser has nothing to do
 * (decision 79). What every row shows of a band is in its cell and comes with the page.
 */
import dynamic from 'next/dynamic';
import type { ComponentType } from 'react';
import type { LedgerRow } from '../../../contract';
import type { GroundKind } from '../../../core/piece/ground';
import { late, type Late } from '../../kit/late';
import { DocumentCell } from '../documents/document-cell';
import { PieceCell } from '../piece/piece-cell';

export const RecordsSentence = late(
  dynamic(() => import('../records/records').then((m) => m.RecordsSentence)),
  () => import('../records/records').then((m) => m.RecordsSentence),
);
export const RecordsTools = late(
  dynamic(() => import('../records/records').then((m) => m.RecordsTools)),
  () => import('../records/records').then((m) => m.RecordsTools),
);
export const StampsSentence = late(
  dynamic(() => import('../stamps/stamps').then((m) => m.StampsSentence)),
  () => import('../stamps/stamps').then((m) => m.StampsSentence),
);
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

/** Fetches what any band of a job shows when it is opened, one after the other. */
export async function fetchAhead(ground: GroundKind): Promise<void> {
  const { Sentence, Band } = pieceBands[ground];
  for (const part of [
    StampsSentence,
    RecordsSentence,
    RecordsTools,
    Sentence,
    Band,
    RunSentence,
    RunBand,
  ])
    await part.ahead();
}
