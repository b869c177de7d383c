'use client';

import { createContext, useContext } from 'react';
import type { Stamp } from '../../../core/payload/stamp';
import { widestCode, withCodeWidth } from '../../../core/piece/resizing';
import { stockOf } from '../../../core/piece/stock';
import type { Column, Values } from '../../../core/records/columns';
import { HandContext, JobScreenContext } from '../../shell/ledger/context';
import { bench as wording } from './words';

/** The context of a stamp's editors: the columns it may use and the selected record. */
export interface Bench {
  columns: readonly Column[];
  values: Values | undefined;
  /** The job of the stamp's records; undefined for a single code. */
  job?: { id: number; version: number; revision: number };
  /**
   * The place of a stamp on the job's piece: its width there, the largest possible one, and how to
   * change it.
   */
  placed?(stamp: string): Placed | undefined;
}

export interface Placed {
  sizeMm: number;
  mostMm: number;
  set(sizeMm: number): void;
}

/** A stamp as it is drawn on the piece, with the size of its place instead of that of its look. */
export const onPiece = (stamp: Stamp, placed: Placed | undefined): Stamp =>
  placed
    ? { ...stamp, look: { ...stamp.look, sizeMm: placed.sizeMm, moduleDots: undefined } }
    : stamp;

export const BenchContext = createContext<Bench | undefined>(undefined);

/** The bench from the context, or that of the current job. */
export function useBench(): Bench {
  const own = useContext(BenchContext);
  const screen = useContext(JobScreenContext);
  const { handRow } = useContext(HandContext);
  if (own) return own;
  if (!screen) throw new Error(wording.usedOutsideAJob);
  const { job, save } = screen;
  const { piece } = job.document;
  return {
    columns: job.list.columns,
    values: handRow?.values,
    job: { id: job.id, version: job.version, revision: job.list.revision },
    placed(stamp) {
      // in a document the place is as large as the example has it
      if (piece.ground) return undefined;
      const own = job.document.stamps.find((s) => s.id === stamp);
      const placed = piece.elements.flatMap((e) =>
        e.kind === 'stamp' && e.stamp === stamp ? [e] : [],
      );
      if (!own || placed.length === 0) return undefined;
      const on = placed.map((e) => e.sizeMm);
      return {
        // of several places the smallest decides whether it reads
        sizeMm: Math.min(...on),
        mostMm: Math.min(...placed.map((e) => widestCode(stockOf(piece), own, e.turn))),
        set: (sizeMm) =>
          save((d) => ({
            ...d,
            piece: {
              ...d.piece,
              elements: d.piece.elements.map((e) =>
                e.kind === 'stamp' && e.stamp === stamp ? withCodeWidth(e, own, sizeMm) : e,
              ),
            },
          })),
      };
    },
  };
}
