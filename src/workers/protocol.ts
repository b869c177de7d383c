import type { LookArea } from '../core/look/areas';
import type { LookWarning } from '../core/look/warnings';
import type { Stamp } from '../core/payload/stamp';
import type { PieceProblem } from '../core/piece/piece';
import type { Piece, Side } from '../core/piece/model';
import type { Values } from '../core/records/columns';
import type { SymbolFacts } from '../core/symbology';

/** A code as the page draws it: SVG elements in modules, with quiet zone, text and frame. */
export interface CodePicture {
  payload: string;
  svg: string;
  columns: number;
  rows: number;
  /** Modules across without quiet zone. */
  symbolColumns: number;
  facts: SymbolFacts;
  moduleMm: number;
  dots: number;
  widthMm: number;
  heightMm: number;
  warnings: LookWarning[];
  /** Its parts, as one would point at them to change them. */
  areas: LookArea[];
}

/** A piece as the page draws it: SVG elements in mm. */
export interface PiecePicture {
  svg: string;
  boxes: { id: string; x: number; y: number; width: number; height: number; over: number }[];
  problems: PieceProblem[];
}

export type ReadingReport =
  | { result: 'none' }
  | {
      result: 'read' | 'differs';
      text: string;
      unusedCorrection?: number;
      milliseconds: number;
      onPiece: boolean;
    }
  | { result: 'unread'; milliseconds: number; onPiece: boolean };

/** A picture to look for a code in: the bytes of a file, or a frame of a camera as grey values. */
export type ScannedImage =
  { bytes: Uint8Array } | { grey: Uint8Array; width: number; height: number };

/** What the independent reader made of a picture; null when it found no code that reads. */
export type ScanReport = { symbology: string; text: string; identifier: string } | null;

/** A code on a picture, and where its middle is there, in px. */
export interface SeenCode {
  text: string;
  x: number;
  y: number;
}

export type CodeFileKind = 'svg' | 'png' | 'jpeg' | 'pdf' | 'eps';

/** A side of a piece that is to be drawn; `list` is where its pictures are found. */
export interface PieceToDraw {
  piece: Piece;
  stamps: Stamp[];
  values: Values;
  list?: number;
  side?: Side;
}

/** A code that is to be read: from the piece, where it lies on it; else from its own artwork. */
export interface CodeToRead {
  stamp: Stamp;
  values: Values;
  piece?: Piece;
  stamps: Stamp[];
  list?: number;
}
