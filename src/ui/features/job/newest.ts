import { replaceEqualDeep } from '@tanstack/react-query';
import type { JobView } from '../../../contract';
import type { JobDocument } from '../../../core/job/document';

/** A change that is shown while it is being saved. */
export interface OnItsWay {
  /** The version that it was made from. */
  version: number;
  document: JobDocument;
}

/**
 * The job to show when an answer arrives: never one that was requested before a change and answered
 * after it, which would undo the change for a moment and close open editors.
 *
 * @param way the change that is being saved, if there is one
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
