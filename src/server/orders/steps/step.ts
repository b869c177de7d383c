import type { Made, OrderStep, StepKind } from '../../../core/orders/order';
import type { Column, Values } from '../../../core/records/columns';
import type { Database } from '../../platform';

/** What a step is done in. */
export interface Situation {
  /**
   * The transaction in which the firing is held; of steps that work outside, the database itself.
   */
  db: Database;
  order: { id: number; name: string };
  firing: number;
  /** Which step of the sentence it is, from 0. */
  seq: number;
  /** Orders that caused the current one, in order, this one last. */
  chain: readonly number[];
  /** The author in the journal. */
  actor: string;
  list: { id: number; columns: Column[] } | undefined;
  record: { id: number; values: Values } | undefined;
  /** Values of the record and of all chips, by id. */
  values: Values;
  /** What an earlier try made and waits for. */
  waitsFor: Made | undefined;
  /** The results of the earlier steps, the latest last. */
  before: readonly Made[];
}

export interface Did {
  /** What it did, in words, without a full stop. */
  words: string;
  made?: Made;
  /** Values for the steps after it, by the ids of their chips. */
  chips?: Record<string, string>;
  /** Begun; check again after so many seconds. */
  waits?: number;
  /** The sentence ends here, and why. */
  stops?: string;
  /** The following steps are done for each of these separately. */
  parts?: { name: string; chips: Record<string, string> }[];
  /** To be done after the commit. */
  after?(db: Database): Promise<void>;
}

/**
 * How a step is done. To add one: a file here, a line in `index.ts`, its shape in
 * `core/orders/order.ts`.
 */
export interface StepDoer<S extends OrderStep = OrderStep> {
  /**
   * It works on other servers, or with files, so that a rollback does not undo it: if it is
   * repeated, it does nothing twice.
   */
  outside?: true;
  do(step: S, situation: Situation): Promise<Did>;
  /**
   * What it would do, in words; nothing is sent or written. @throws StepTrouble for what would go
   * wrong
   */
  would(
    step: S,
    situation: Situation,
  ): Promise<{ words: string; chips?: Record<string, string>; stops?: string }>;
}
export type StepOf<K extends StepKind> = Extract<OrderStep, { kind: K }>;

/** A step that cannot be done; the message is in the user's words. */
export class StepTrouble extends Error {
  override name = 'StepTrouble';
  constructor(
    message: string,
    /** Trying again later may help. */
    readonly passes = false,
  ) {
    super(message);
  }
}

/** It is too early: check again after so many seconds, which is not a try. */
export class NotYet extends Error {
  override name = 'NotYet';
  constructor(
    message: string,
    readonly seconds: number,
  ) {
    super(message);
  }
}

/** The run that was made last. @throws StepTrouble */
export function lastRun({ before }: Situation): number {
  const run = before.findLast((made) => made.run !== undefined)?.run;
  if (run === undefined) throw new StepTrouble('Nothing was made before it.');
  return run;
}
