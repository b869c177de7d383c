import { replaceEqualDeep } from '@tanstack/react-query';
import type { JobView } from '../../../contract';
import type { JobDocument } from '../../../core/job/document';

/** A change that is shown already while it is kept. */
export interface OnItsWay {
  /** The version that it was made of. */
  version: number;
  document: JobDocument;
}

/**
 * What is shown of a job when an answer comes: never what was asked before a change and is answered
 * after it, which would take the change back for a moment, and close what is open on it.
 *
 * @param way the change that is being kept, if one is
 */
export function newest(
  known: JobView | undefined,
  found: JobView,
  way: OnItsWay | undefined,
): JobView {
  if (known && known.version > found.version) return known;
  return replaceEqualDeep(
    known,
    way?.version === found.version ? { ...found, document: way.document } : found,
  ) as JobView;
}
