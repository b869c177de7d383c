import type { DocumentFacts } from '../../../core/documents';
import type { DocumentBlock } from '../../../core/piece/ground';
import type { PdfFacts } from '../../../core/documents/pdf';
import type { KeptPicture } from '../../../core/drawing/picture';
import type { Stamp } from '../../../core/payload/stamp';
import type { Values } from '../../../core/records/columns';
import type { ImageFormat } from '../../../core/run/outputs';

/**
 * Work in a process of its own: what goes in and what comes out. It is done in `tasks/works.ts`.
 */
export interface Works {
  /** A background task, whole, with a database connection of its own. */
  task: { in: { name: string; payload: unknown }; out: void };
  /** A picture from outside, redrawn as plain pixels. */
  picture: { in: { name: string; bytes: Uint8Array; side?: number }; out: KeptPicture };
  /** The picture of a code, read back. */
  code: {
    in: { stamp: Stamp; values: Values; format: ImageFormat };
    out: { bytes: Uint8Array; reads: boolean } | undefined;
  };
  /** A document from outside, analysed. */
  document: { in: { bytes: Uint8Array; kind: 'docx' | 'html' }; out: DocumentFacts };
  /** The paragraphs and pictures that repeat with a block, by number. */
  'document-block': {
    in: { bytes: Uint8Array; kind: 'docx' | 'html'; block: DocumentBlock };
    out: { paragraphs: number[]; pictures: readonly number[] };
  };
  /** A PDF from outside, analysed, with its text. */
  pdf: {
    in: { bytes: Uint8Array; password?: string };
    out: PdfFacts & { text: string; codes: string[] };
  };
  /** A page of a PDF as a picture (PNG). */
  'pdf-page': {
    in: { bytes: Uint8Array; page: number; dpi: number; password?: string };
    out: Uint8Array;
  };
  /** A copy of it for the screen. */
  'shown-document': { in: { bytes: Uint8Array; kind: 'docx' | 'html' }; out: Uint8Array };
}
export type WorkName = keyof Works;
export type Input<W extends WorkName> = Works[W]['in'];
export type Output<W extends WorkName> = Works[W]['out'];

/** From the pool to its child and back. An error is sent as the data to construct it again. */
export interface Asked {
  work: WorkName;
  input: unknown;
}
export type Told =
  | { ready: true }
  | { done: unknown }
  | { failed: { name: string; message: string; status?: number; code?: string } };
