'use client';

import { useRef } from 'react';
import type { JobDocument } from '../../core/job/document';

/** One thing that was done here: a change of the job's own document, or one of the list, which the server remembers. */
type Done = { kind: 'document'; document: JobDocument } | { kind: 'list' };

/** What was done in this window, in order, so that undoing takes the last thing back, whatever it was. */
export class History {
  private done: Done[] = [];
  private undone: Done[] = [];

  /** Remembers a change; what had been undone before it is gone. */
  add(step: Done): void {
    this.done.push(step);
    if (this.done.length > 200) this.done.shift();
    this.undone = [];
  }

  /**
   * The step to take back or do again. A document is swapped for the one in force, so that it can go the other way again.
   * Undefined when nothing was done here: the list may still have something to undo.
   */
  step(direction: 'undo' | 'redo', now: JobDocument): Done | undefined {
    const [from, to] = direction === 'undo' ? [this.done, this.undone] : [this.undone, this.done];
    const step = from.pop();
    if (step) to.push(step.kind === 'document' ? { kind: 'document', document: now } : step);
    return step;
  }
}

export const useHistory = (): History => {
  const history = useRef<History>(undefined);
  return (history.current ??= new History());
};
