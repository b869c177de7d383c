'use client';

import { createContext, useContext } from 'react';
import type { JobView, LedgerRow } from '../../../contract';
import { bands, type Band } from '../../../contract/ledger';
import type { JobDocument } from '../../../core/job/document';
import type { Stamp } from '../../../core/payload/stamp';
import type { Output } from '../../../core/run/outputs';
import type { View } from './view';
import { context as wording } from '../words';

export { bands, type Band };
export const bandNames: Record<Band, string> = {
  records: wording.records,
  stamps: wording.stamps,
  piece: wording.piece,
  run: wording.run,
};

export type Which = 'ready' | 'with-code' | 'ticked' | 'filtered' | 'new' | 'changed';

/** Where to jump: to the next record with a problem, or to one by its number. */
export type JumpTo = 'longest' | 'shortest' | 'scripts' | 'over' | { record: number };

/** The plan of a run, as its sentence shows it. */
export interface RunPlan {
  which: Which;
  /** Column id and direction, if the pieces are not made in the list's order. */
  sort?: string;
  output: Output;
  name: string;
  printer?: number;
}

/** What every part of a job's screen shares. */
export interface JobScreenState {
  job: JobView;
  band: Band;
  openBand(band: Band): void;
  /** Selects a row, by its index within the filter. */
  setHand(index: number): void;
  total: number;
  rowAt(index: number): LedgerRow | undefined;
  view: View;
  setView(next: Partial<View>): void;
  ticked: ReadonlySet<number>;
  tick(ids: readonly number[], on: boolean): void;
  /** Keeps a change of the job's document; every row follows. */
  save(change: (document: JobDocument) => JobDocument): void;
  /** Changes a cell; `from` is its value when the change began. */
  editCell(record: number, column: string, value: string, from: string): void;
  editCells(
    edits: readonly { record: number; column: string; value: string; from: string }[],
  ): void;
  /** The sentence of the open band is one line high, so that more rows are seen. */
  folded: boolean;
  fold(on: boolean): void;
  foldSentence(): void;
  /**
   * Changes the list on the server; it can be undone, and everything shown is brought up to date.
   */
  changeList<T>(work: () => Promise<T>): Promise<T | undefined>;
  /** The stamp whose codes are shown; undefined if the job has none. */
  stampInHand: Stamp | undefined;
  takeStamp(id: string): void;
  /** Secret columns that are shown for now. */
  revealed: ReadonlySet<string>;
  reveal(column: string, on: boolean): void;
  step(direction: 'undo' | 'redo'): void;
  jump(to: JumpTo): void;
  /** Resolves once every change so far is saved, so that a run uses what is on the screen. */
  kept(): Promise<unknown>;
  openLoupe(): void;
  /** What the run will make. */
  plan: RunPlan;
  setPlan(next: Partial<RunPlan>): void;
  /** Something that could not be done, in words. */
  problem: string | undefined;
  setProblem(text: string | undefined): void;
}

/**
 * The selected row, separate from the rest: it changes with every step through the records, and
 * only what shows it is drawn again.
 */
export interface InHand {
  /** Index of the selected row within the filter, and its record once loaded. */
  hand: number;
  handRow: LedgerRow | undefined;
}

export const HandContext = createContext<InHand>({ hand: 0, handRow: undefined });
export const useHand = (): InHand => useContext(HandContext);

export const JobScreenContext = createContext<JobScreenState | undefined>(undefined);

export function useJob(): JobScreenState {
  const state = useContext(JobScreenContext);
  if (!state) throw new Error(wording.usedOutsideAJob);
  return state;
}
