'use client';

import { createContext, useContext } from 'react';
import type { Column, Values } from '../../core/records/columns';
import { JobScreenContext } from '../ledger/context';

/** What a stamp is worked on with: the columns it may use and the record in hand. */
export interface Bench {
  columns: readonly Column[];
  values: Values | undefined;
  /** The job whose records the stamp is for; none for a single code. */
  job?: { id: number; version: number; revision: number };
}

export const BenchContext = createContext<Bench | undefined>(undefined);

/** The bench given from outside, or that of the job whose screen this is. */
export function useBench(): Bench {
  const own = useContext(BenchContext);
  const screen = useContext(JobScreenContext);
  if (own) return own;
  if (!screen) throw new Error('used outside a job and a bench');
  const { job, handRow } = screen;
  return { columns: job.list.columns, values: handRow?.values, job: { id: job.id, version: job.version, revision: job.list.revision } };
}
