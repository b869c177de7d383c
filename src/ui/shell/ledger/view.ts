import type { Filter } from '../../../contract';
import type { ProblemKind } from '../../../core/records/problems';

export interface Condition {
  column: string;
  is: 'is' | 'holds' | 'blank' | 'filled';
  text: string;
}

/** Which records the ledger shows, and in which order. */
export interface View {
  filter: Filter;
  q: string;
  problem?: ProblemKind;
  /** Column id and direction. */
  sort?: `${string}:${'up' | 'down'}`;
  where: readonly Condition[];
}

/**
 * Everything, in the list's own order. Every key is there, so that it replaces whatever was set.
 */
export const wholeView: View = {
  filter: 'all',
  q: '',
  where: [],
  problem: undefined,
  sort: undefined,
};

export const isWhole = (view: View): boolean =>
  view.filter === 'all' && view.q === '' && !view.problem && !view.sort && view.where.length === 0;

/** A view as the server takes it. */
export function viewQuery({ filter, q, problem, sort, where }: View) {
  return { filter, q, problem, sort, where: where.length > 0 ? [...where] : undefined };
}
